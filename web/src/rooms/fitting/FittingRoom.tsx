import { lazy, Suspense, useCallback, useMemo, useRef, useState } from "react";
import type { Object3D } from "three";
import type { Production } from "../../api/client";
import { type CellAnswer, useChangeRecipe, useMeasures } from "../../api/hooks";
import { type Move, markPosing, useJoints, useMotion, usePosingMove } from "../../api/posing";
import { Bench } from "../../bench/Bench";
import { useFalling } from "../../bench/steps/drape/useFalling";
import { describe } from "../../bench/tool";
import { useFitting } from "../../bench/useFitting";
import {
  type BenchStep,
  type Nudge,
  nudged,
  type StepOf,
  weighOf,
  withStep,
  withWeigh,
  withWork,
  workOf,
} from "../../recipe/recipe";
import { GrabLayer } from "../../stage/layers/GrabLayer";
import { HandLayer } from "../../stage/layers/HandLayer";
import { LassoLayer } from "../../stage/layers/LassoLayer";
import { LatticeHandles } from "../../stage/layers/LatticeHandles";
import { PickLayer } from "../../stage/layers/PickLayer";
import { PlaceHandles } from "../../stage/layers/PlaceHandles";
import { PoseHandles } from "../../stage/layers/PoseHandles";
import { Tapes } from "../../stage/layers/Tapes";
import { WeightLayer } from "../../stage/layers/WeightLayer";
import type { Mode } from "../../stage/mesh/cloth";
import type { PieceMesh } from "../../stage/mesh/piece";
import { jointShare } from "../../stage/mesh/weights";
import { Stage } from "../../stage/Stage";
import { Wardrobe, type Worn } from "../../stage/Wardrobe";
import { useRoom, useRoomOf, type Weights } from "../../store/room";
import { MeasurePanel } from "../figure/MeasurePanel";
import { PosePanel } from "../figure/PosePanel";
import { PosingPanel } from "../figure/PosingPanel";
import { ShapePanel } from "../figure/ShapePanel";
import { WearPanel } from "../figure/WearPanel";
import { ShotFrame } from "../sheet/ShotFrame";
import { ShotsPanel } from "../sheet/ShotsPanel";
import { TrialSheet } from "../sheet/TrialSheet";
import { CastAxis, Corner, PoseAxis } from "./Axes";
import { Rail } from "./Rail";
import { StageFurniture } from "./StageFurniture";
import { useKeys } from "./useKeys";

const FindOrDo = lazy(() => import("./FindOrDo"));

export function FittingRoom({ production }: { production: Production }) {
  const fitting = useFitting(production);
  const room = useRoomOf(
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
  const change = useChangeRecipe();
  const [object, setObject] = useState<Object3D | null>(null);
  useKeys(production, fitting);
  const { piece, shape, pose, figure, names } = fitting;
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
  const shot = production.shots.find((s) => s.id === room.shot);
  const map = room.glance === "clearance" ? "clearance" : room.map;
  const placing = room.step === "place" && !!piece && room.glance === null;
  const shown = fitting.measured;
  const mesh = fitting.worn.find((w) => w.piece.id === piece?.id)?.mesh;
  const beside = useMemo(
    () => new Map(fitting.worn.flatMap(({ piece: p, mesh: m }) => (p.geometry ? [[p.geometry, m] as const] : []))),
    [fitting.worn],
  );
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
  const place = useCallback(
    (nudge: Nudge) => {
      if (piece) change.mutate({ piece, recipe: nudged(piece.recipe, nudge), label: "Place by hand" });
    },
    [piece, change.mutate],
  );
  const work = piece ? workOf(piece.recipe) : [];
  const last = work.at(-1);
  const lattice = room.step === "work" && last?.kind === "lattice" ? last : null;
  const rework = (steps: typeof work, label: string) =>
    piece && change.mutate({ piece, recipe: withWork(piece.recipe, steps), label });
  const stroke = (done: (typeof work)[number]) => rework([...work, done], describe(done));
  const fix = (done: StepOf<"stroke">) => {
    if (!piece) return;
    const { body: _, ...cell } = fitting.asked;
    change.mutate({
      piece,
      recipe: withStep(piece.recipe, { kind: "fix", cell, strokes: [done], values: {} }),
      label: `By hand, ${pose?.label.toLowerCase() ?? "in a pose"}`,
    });
  };
  const paint = (done: StepOf<"weigh">) =>
    piece &&
    change.mutate({
      piece,
      recipe: withWeigh(piece.recipe, [...weighOf(piece.recipe), done]),
      label: `Weights: ${done.tool} ${done.joint}`,
    });
  const bend = (step: (typeof work)[number]) => {
    const begun = last?.kind === "lattice" && !last.knots?.length; // each pull of a knot is an alteration of its own
    rework([...(begun ? work.slice(0, -1) : work), step], "Bend the lattice");
  };
  const ready = useRef("");
  if (mesh && piece?.status === "done") ready.current = mesh.geometry.uuid;
  const inHand = mesh && piece && room.step === "work" && !room.picking && ready.current === mesh.geometry.uuid;
  return (
    <main className="grid min-h-0 grid-cols-[96px_minmax(0,1fr)_minmax(286px,316px)] grid-rows-[minmax(0,1fr)_104px]">
      <CastAxis production={production} wearer={fitting.wearer} />
      <section className="relative min-h-0 overflow-hidden border-x border-rule" aria-label="Stage">
        <Stage
          label={`${fitting.wearer?.name ?? "The figure"} in ${pose?.label ?? "rest"}`}
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
          {placing && object && !room.picking && <PlaceHandles object={object} onDone={place} />}
          {room.lasso && <LassoLayer />}
          {mesh && piece && room.picking && <PickLayer mesh={mesh} />}
          {inHand && room.hand.tool && (
            <HandLayer key={mesh.geometry.uuid} piece={piece.id} mesh={mesh} onStroke={stroke} />
          )}
          {mesh && piece && room.step === "clear" && room.hand.tool && mesh.bound && fitting.bound && (
            <HandLayer
              key={`fix ${mesh.geometry.uuid}`}
              piece={piece.id}
              mesh={mesh}
              cell={fitting.asked}
              onStroke={fix}
            />
          )}
          {mesh && falling.told && mesh.bound && (
            <GrabLayer mesh={mesh} onGrab={falling.grab} onLetGo={falling.letGo} />
          )}
          {mesh && piece && room.step === "bind" && room.weights.tool && mesh.bound && (
            <WeightLayer key={mesh.geometry.uuid} piece={piece.id} mesh={mesh} onStroke={paint} />
          )}
          {inHand && lattice && !room.hand.tool && (
            <LatticeHandles key={mesh.geometry.uuid} piece={piece.id} mesh={mesh} step={lattice} onChange={bend} />
          )}
        </Stage>
        {shot && !room.look && <ShotFrame shot={shot.shot} />}
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
        {room.panel === "shots" && <ShotsPanel production={production} fitting={fitting} />}
        {room.panel === "wear" && <WearPanel production={production} />}
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

/** One joint's share of a piece, or the vertices with a fault of its weights. */
function weightsOn(
  mesh: PieceMesh,
  map: "weights" | "faults",
  joint: number,
  { faults }: Weights,
): { mode: Mode; measure: Float32Array | null; drawn: boolean } {
  if (map === "weights") return { mode: "weights", measure: jointShare(mesh, joint), drawn: true };
  const marked = new Float32Array(mesh.kept.length / 3);
  for (const row of faults) marked[row] = 1;
  return { mode: "faults", measure: marked, drawn: false };
}

/** What a piece shows: clearance if that is asked for; at the fit where it fell short, at work where it is protected. */
function shownOn(
  step: BenchStep | null,
  mesh: PieceMesh,
  map: string,
  cell: CellAnswer | undefined,
  name: string,
): { mode: Mode; measure: Float32Array | null; drawn?: boolean } {
  const clearance = `clearance:${name}`;
  if (map === "clearance")
    return {
      mode: "clearance",
      measure: cell?.frame.has(clearance) ? cell.frame.array<Float32Array>(clearance) : null,
    };
  if (step === "fit" && mesh.trouble) return { mode: "trouble", measure: mesh.trouble };
  if (step === "work" && mesh.protect) return { mode: "protect", measure: mesh.protect };
  return { mode: "plain", measure: null };
}
