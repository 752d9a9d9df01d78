import clsx from "clsx";
import { lazy, Suspense, useMemo, useState } from "react";
import type { Object3D } from "three";
import type { Production } from "../../api/client";
import { useMeasures } from "../../api/hooks";
import { useMotion } from "../../api/posing";
import { Bench } from "../../bench/Bench";
import { useFalling } from "../../bench/steps/drape/useFalling";
import { useFitting } from "../../bench/useFitting";
import { LassoLayer } from "../../stage/layers/LassoLayer";
import { Tapes } from "../../stage/layers/Tapes";
import { Stage } from "../../stage/Stage";
import type { Worn } from "../../stage/useMaps";
import { Wardrobe } from "../../stage/Wardrobe";
import { useRoomOf } from "../../store/room";
import { ShotFrame } from "../sheet/ShotFrame";
import { TrialSheet } from "../sheet/TrialSheet";
import { CastAxis, Corner, PoseAxis } from "./Axes";
import { Rail } from "./Rail";
import { StageBeside } from "./StageBeside";
import { StageFurniture } from "./StageFurniture";
import { StagePanels } from "./StagePanels";
import { StagePosing } from "./StagePosing";
import { StageTools } from "./StageTools";
import { shownOn, weightsOn } from "./shownOn";
import { TEXT } from "./texts";
import { useKeys } from "./useKeys";
import { usePutOn } from "./usePutOn";

const FindOrDo = lazy(() => import("./FindOrDo"));

export function FittingRoom({ production }: { production: Production }) {
  const fitting = useFitting(production);
  const room = useRoomOf(
    "beside",
    "draping",
    "fallen",
    "find",
    "glance",
    "hand",
    "lasso",
    "live",
    "look",
    "map",
    "motion",
    "panel",
    "picking",
    "posing",
    "sheet",
    "shot",
    "step",
    "tape",
    "weights",
  );
  const [object, setObject] = useState<Object3D | null>(null);
  useKeys(production, fitting);
  const putOn = usePutOn();
  const { piece, shape, pose, figure, names } = fitting;
  const measures = useMeasures(fitting.asked, room.panel === "measures" && !fitting.own);
  const { posing } = room;
  const motion = useMotion(room.motion);
  const shot = production.shots.find((s) => s.id === room.shot);
  const map = room.glance === "clearance" ? "clearance" : room.map;
  const placing = room.step === "place" && !!piece && room.glance === null;
  const shown = fitting.measured;
  const mesh = fitting.worn.find((w) => w.piece.id === piece?.id)?.mesh;
  const beside = useMemo(
    () => new Map(fitting.worn.flatMap(({ piece: p, mesh: m }) => (p.geometry ? [[p.geometry, m] as const] : []))),
    [fitting.worn],
  );
  const compared = production.outfits.find((o) => o.id === room.beside && o.id !== fitting.wearer?.outfit);
  const falling = useFalling(piece, room.step === "drape" ? mesh : undefined, beside);
  const worn = useMemo<Worn[]>(
    () =>
      fitting.worn.map(({ piece: p, mesh }) => ({
        id: p.id,
        mesh,
        see: room.glance === "through" || room.panel === "measures" ? "through" : "solid",
        ...(p.id === piece?.id && room.fallen !== "cloth" && falling.told
          ? room.fallen === "strain"
            ? { mode: "strain" as const, measure: falling.strain }
            : { mode: "clearance" as const, measure: falling.contact }
          : p.id === piece?.id && (map === "weights" || map === "faults")
            ? weightsOn(mesh, map, figure.data?.joints.indexOf(room.weights.joint) ?? -1, room.weights)
            : shownOn(p.id === piece?.id ? room.step : null, mesh, map, shown, names.get(p.id) ?? p.name)),
        wire: map === "mesh",
      })),
    [
      room.glance,
      room.panel,
      room.step,
      piece?.id,
      map,
      shown,
      fitting.worn,
      room.weights,
      room.fallen,
      falling.told,
      falling.strain,
      falling.contact,
      figure.data,
      names,
    ],
  );
  return (
    <main className="grid min-h-0 grid-cols-[96px_minmax(0,1fr)_minmax(286px,316px)] grid-rows-[minmax(0,1fr)_104px]">
      <CastAxis production={production} wearer={fitting.wearer} />
      <section
        className="relative min-h-0 overflow-hidden border-x border-rule"
        aria-label={TEXT.stage}
        onDragOver={(event) => event.preventDefault()}
        onDrop={putOn.drop}
      >
        <div className={clsx("absolute inset-y-0 left-0", compared ? "w-1/2" : "w-full")}>
          <Stage
            label={TEXT.in(fitting.wearer?.name ?? TEXT.theFigure, pose?.label ?? "rest")}
            shot={room.look ?? shot?.shot}
          >
            {figure.data && (
              <Wardrobe
                key={fitting.own?.body ?? "figure"}
                figure={figure.data}
                shape={shape}
                pose={pose}
                worn={worn}
                standsOut={shown?.frame.array<Float32Array>("stands_out") ?? null}
                holes={shown?.frame.array<Int32Array>("hole_faces") ?? null}
                bodyMode="stands-out"
                wire={map === "mesh"}
                jump={room.live !== null || posing !== null || room.draping !== null}
                motion={room.motion ? motion.data : undefined}
                placed={placing ? piece.id : null}
                onPlaced={setObject}
              />
            )}
            {room.panel === "measures" && <Tapes measures={measures.data ?? []} chosen={room.tape} />}
            {posing && figure.data && <StagePosing figure={figure.data} shape={shape} posing={posing} />}
            {mesh && piece && (
              <StageTools
                piece={piece}
                mesh={mesh}
                fitting={fitting}
                falling={falling}
                placed={placing ? object : null}
              />
            )}
            {room.lasso && <LassoLayer />}
          </Stage>
        </div>
        {compared && fitting.wearer && (
          <StageBeside key={fitting.wearer.id} production={production} wearer={fitting.wearer} outfit={compared.id} />
        )}
        {shot && !room.look && <ShotFrame shot={shot.shot} />}
        <StageFurniture production={production} fitting={fitting} />
        <StagePanels production={production} fitting={fitting} measures={measures.data ?? []} />
        {room.sheet && <TrialSheet production={production} />}
      </section>
      <aside className="row-span-2 min-h-0 overflow-y-auto bg-card">
        <Rail production={production} fitting={fitting} />
        {piece && <Bench key={piece.id} production={production} piece={piece} fitting={fitting} falling={falling} />}
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
