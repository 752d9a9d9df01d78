import { lazy, Suspense, useCallback, useMemo, useState } from "react";
import type { Object3D } from "three";
import type { Production } from "../../api/client";
import { useChangeRecipe, useMeasures } from "../../api/hooks";
import { type Move, markPosing, useJoints, useMotion, usePosingMove } from "../../api/posing";
import { type Nudge, PlaceHandles } from "../../stage/PlaceHandles";
import { PoseHandles } from "../../stage/PoseHandles";
import { Stage } from "../../stage/Stage";
import { Tapes } from "../../stage/Tapes";
import { Wardrobe, type Worn } from "../../stage/Wardrobe";
import { useRoom } from "../../state/room";
import { CastAxis, Corner, PoseAxis } from "./Axes";
import { Bench } from "./Bench";
import { MeasurePanel } from "./MeasurePanel";
import { PosePanel } from "./PosePanel";
import { PosingPanel } from "./PosingPanel";
import { Rail } from "./Rail";
import { nudged } from "./recipe";
import { ShapePanel } from "./ShapePanel";
import { StageFurniture } from "./StageFurniture";
import { TrialSheet } from "./TrialSheet";
import { useFitting } from "./useFitting";
import { useKeys } from "./useKeys";

const FindOrDo = lazy(() => import("./FindOrDo"));

export function FittingRoom({ production }: { production: Production }) {
  const fitting = useFitting(production);
  const room = useRoom();
  const change = useChangeRecipe();
  const [object, setObject] = useState<Object3D | null>(null);
  useKeys(production, fitting);
  const { piece, cell, shape, pose, figure } = fitting;
  const measures = useMeasures(fitting.asked, room.panel === "measures" && !fitting.own);
  const { posing } = room;
  const joints = useJoints(posing !== null);
  const handles = useMemo(
    () => joints.data?.filter((j) => j.handle && (shape.tail || !j.name.startsWith("tail"))).map((j) => j.name) ?? [],
    [joints.data, shape.tail],
  );
  const move = usePosingMove();
  const motion = useMotion(room.motion);
  const drag = (joint: string, target: [number, number, number]) => {
    const asked: Move = { kind: "drag", joint, target, shape };
    move(asked, useRoom.getState().posing?.past.at(-1));
  };
  const pick = (joint: string) => {
    markPosing();
    move({ kind: "turn", joint });
  };
  const map = room.glance === "clearance" ? "clearance" : room.map;
  const placing = room.step === "place" && !!piece && room.glance === null;
  const shown = fitting.bound ? cell.data : undefined;
  const worn = useMemo<Worn[]>(
    () =>
      fitting.worn.map(({ piece: p, mesh }) => ({
        id: p.id,
        mesh,
        see: room.glance === "through" || room.panel === "measures" ? "through" : "solid",
        mode: map === "clearance" ? "clearance" : "plain",
        wire: map === "mesh",
        clearance: shown?.frame.has(`clearance:${p.name}`)
          ? shown.frame.array<Float32Array>(`clearance:${p.name}`)
          : null,
      })),
    [room.glance, room.panel, map, shown, fitting.worn],
  );
  const place = useCallback(
    (nudge: Nudge) => {
      if (piece) change.mutate({ piece, recipe: nudged(piece.recipe, nudge), label: "Place by hand" });
    },
    [piece, change.mutate],
  );
  return (
    <main className="grid min-h-0 grid-cols-[96px_minmax(0,1fr)_minmax(286px,316px)] grid-rows-[minmax(0,1fr)_104px]">
      <CastAxis production={production} wearer={fitting.wearer} />
      <section className="relative min-h-0 overflow-hidden border-x border-rule" aria-label="Stage">
        <Stage label={`${fitting.wearer?.name ?? "The figure"} in ${pose?.label ?? "rest"}`}>
          {figure.data && (
            <Wardrobe
              key={fitting.own?.body ?? "figure"}
              figure={figure.data}
              shape={shape}
              pose={pose}
              worn={worn}
              standsOut={shown?.frame.array<Float32Array>("stands_out") ?? null}
              bodyMode="stands-out"
              wire={map === "mesh"}
              jump={room.live !== null || posing !== null}
              motion={room.motion ? motion.data : undefined}
              placed={placing ? piece.id : null}
              onPlaced={setObject}
            />
          )}
          {room.panel === "measures" && <Tapes measures={measures.data ?? []} chosen={room.tape} />}
          {posing && figure.data && (
            <PoseHandles
              figure={figure.data}
              shape={shape}
              rotations={posing.rotations}
              joints={handles}
              chosen={posing.joint}
              onPick={pick}
              onDrag={drag}
            />
          )}
          {placing && object && <PlaceHandles object={object} onDone={place} />}
        </Stage>
        <StageFurniture production={production} fitting={fitting} />
        {fitting.wearer && (
          <>
            {room.panel === "shape" && (
              <ShapePanel
                key={fitting.wearer.body}
                shapes={fitting.own?.shapes ?? production.shapes}
                wearer={fitting.wearer}
              />
            )}
            {room.panel === "measures" && !fitting.own && (
              <MeasurePanel wearer={fitting.wearer} measures={measures.data ?? []} />
            )}
            {room.panel === "poses" && posing && <PosingPanel posing={posing} />}
            {room.panel === "poses" && !posing && <PosePanel production={production} wearer={fitting.wearer} />}
          </>
        )}
        {room.sheet && <TrialSheet production={production} />}
      </section>
      <aside className="row-span-2 min-h-0 overflow-y-auto bg-card">
        <Rail production={production} fitting={fitting} />
        {piece && <Bench key={piece.id} production={production} piece={piece} fitting={fitting} />}
      </aside>
      <Corner production={production} />
      <PoseAxis production={production} pose={fitting.chosen} />
      {room.find && (
        <Suspense fallback={null}>
          <FindOrDo production={production} fitting={fitting} />
        </Suspense>
      )}
    </main>
  );
}
