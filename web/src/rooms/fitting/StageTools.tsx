import { useCallback, useRef } from "react";
import type { Object3D } from "three";
import type { Piece } from "../../api/client";
import { useChangeRecipe } from "../../api/hooks";
import type { useFalling } from "../../bench/steps/drape/useFalling";
import { describe } from "../../bench/tool";
import type { Fitting } from "../../bench/useFitting";
import { type Nudge, nudged, type StepOf, weighOf, withStep, withWeigh, withWork, workOf } from "../../recipe/recipe";
import { GrabLayer } from "../../stage/layers/GrabLayer";
import { HandLayer } from "../../stage/layers/HandLayer";
import { LatticeHandles } from "../../stage/layers/LatticeHandles";
import { PickLayer } from "../../stage/layers/PickLayer";
import { PlaceHandles } from "../../stage/layers/PlaceHandles";
import { WeightLayer } from "../../stage/layers/WeightLayer";
import type { PieceMesh } from "../../stage/mesh/piece";
import { useRoomOf } from "../../store/room";
import { TEXT } from "./texts";

interface Props {
  piece: Piece;
  mesh: PieceMesh;
  fitting: Fitting;
  falling: ReturnType<typeof useFalling>;
  /** The piece's object while it is placed by hand. */
  placed: Object3D | null;
}

/** What is done to the chosen piece on the stage itself: placed, picked, pulled, painted, bent; each ends as an alteration. */
export function StageTools({ piece, mesh, fitting, falling, placed }: Props) {
  const room = useRoomOf("hand", "picking", "step", "weights");
  const change = useChangeRecipe();
  const place = useCallback(
    (nudge: Nudge) => change.mutate({ piece, recipe: nudged(piece.recipe, nudge), label: TEXT.placeByHand }),
    [piece, change.mutate],
  );
  const work = workOf(piece.recipe);
  const last = work.at(-1);
  const lattice = room.step === "work" && last?.kind === "lattice" ? last : null;
  const rework = (steps: typeof work, label: string) =>
    change.mutate({ piece, recipe: withWork(piece.recipe, steps), label });
  const stroke = (done: (typeof work)[number]) => rework([...work, done], describe(done));
  const fix = (done: StepOf<"stroke">) => {
    const { body: _, ...cell } = fitting.asked;
    change.mutate({
      piece,
      recipe: withStep(piece.recipe, { kind: "fix", cell, strokes: [done], values: {} }),
      label: TEXT.byHand(fitting.pose?.label.toLowerCase() ?? TEXT.inAPose),
    });
  };
  const paint = (done: StepOf<"weigh">) =>
    change.mutate({
      piece,
      recipe: withWeigh(piece.recipe, [...weighOf(piece.recipe), done]),
      label: TEXT.weights2(done.tool, done.joint),
    });
  const bend = (step: (typeof work)[number]) => {
    const begun = last?.kind === "lattice" && !last.knots?.length; // each pull of a knot is an alteration of its own
    rework([...(begun ? work.slice(0, -1) : work), step], TEXT.bendTheLattice);
  };
  const ready = useRef("");
  if (piece.status === "done") ready.current = mesh.geometry.uuid;
  const inHand = room.step === "work" && !room.picking && ready.current === mesh.geometry.uuid;
  return (
    <>
      {placed && !room.picking && <PlaceHandles object={placed} onDone={place} />}
      {room.picking && <PickLayer mesh={mesh} />}
      {inHand && room.hand.tool && (
        <HandLayer key={mesh.geometry.uuid} piece={piece.id} mesh={mesh} onStroke={stroke} />
      )}
      {room.step === "clear" && room.hand.tool && mesh.bound && fitting.bound && (
        <HandLayer key={`fix ${mesh.geometry.uuid}`} piece={piece.id} mesh={mesh} cell={fitting.asked} onStroke={fix} />
      )}
      {falling.told && mesh.bound && <GrabLayer mesh={mesh} onGrab={falling.grab} onLetGo={falling.letGo} />}
      {room.step === "bind" && room.weights.tool && mesh.bound && (
        <WeightLayer key={mesh.geometry.uuid} piece={piece.id} mesh={mesh} onStroke={paint} />
      )}
      {inHand && lattice && !room.hand.tool && (
        <LatticeHandles key={mesh.geometry.uuid} piece={piece.id} mesh={mesh} step={lattice} onChange={bend} />
      )}
    </>
  );
}
