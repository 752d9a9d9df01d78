import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { type Object3D, Quaternion } from "three";
import type { Pose } from "../api/client";
import type { MotionNotes } from "../api/posing";
import type { Frame } from "../api/wire/frames";
import { f32, item } from "../recipe/at";
import type { Mode } from "./mesh/cloth";
import { reshape } from "./mesh/drawn";
import { influence } from "./mesh/dressed";
import { drive, type Figure, skinMatrices } from "./mesh/figure";
import { player } from "./mesh/player";
import { dressedSkin } from "./mesh/yields";
import { TEXT } from "./texts";
import { useHiddenSkin, useMaps, type Worn } from "./useMaps";
import { useRig } from "./useRig";

const MOVE_MS = 300;

interface Props {
  figure: Figure;
  shape: Record<string, number>;
  pose: Pose | undefined;
  worn: Worn[];
  standsOut: Float32Array | null;
  /** Faces of the skin that pieces hide and that can be missed here: they are drawn, as what shows through. */
  holes?: Int32Array | null;
  bodyMode: Mode;
  wire: boolean;
  jump: boolean;
  /** A motion to play over and over instead of standing in the pose. */
  motion?: Frame<MotionNotes>;
  onPlaced?: (object: Object3D | null) => void;
  placed?: number | null;
}

/** Body and pieces on one set of joints; joints blend on the GPU, moves take 300 ms. */
export function Wardrobe({
  figure,
  shape,
  pose,
  worn,
  standsOut,
  holes,
  bodyMode,
  wire,
  jump,
  motion,
  onPlaced,
  placed,
}: Props) {
  const invalidate = useThree((s) => s.invalidate);
  const { rig, pieces } = useRig(figure, worn);
  const skin = useMemo(() => {
    figure.geometry.userData.dirty = true;
    return dressedSkin(
      figure,
      pieces.map((p) => p.mesh),
    );
  }, [figure, pieces]);

  const whole = useHiddenSkin(figure, worn, holes);

  useEffect(() => {
    const object = pieces.find((p) => p.id === placed)?.object ?? null;
    onPlaced?.(object);
  }, [pieces, placed, onPlaced]);

  // where the body stands now, where it came from, where it goes
  const now = useRef({ values: new Float32Array(figure.shapes.length), turns: new Map<number, Quaternion>(), lift: 0 });
  const move = useRef<{ from: typeof now.current; to: typeof now.current; start: number; length: number } | null>(null);
  const target = useRef(now.current);
  const first = useRef(true);

  useEffect(() => {
    const to = {
      values: Float32Array.from(figure.shapes, (s) => shape[s] ?? 0),
      turns: new Map<number, Quaternion>(),
      lift: 0,
    };
    for (const [joint, q] of Object.entries(pose?.rotations ?? {})) {
      const at = figure.joints.indexOf(joint);
      if (at >= 0) to.turns.set(at, new Quaternion(q[0], q[1], q[2], q[3]));
    }
    const still = window.matchMedia("(prefers-reduced-motion: reduce)").matches;
    const length = jump || still || first.current ? 0 : MOVE_MS;
    first.current = false;
    target.current = to;
    move.current = { from: copy(now.current), to, start: performance.now(), length };
    invalidate();
  }, [figure, shape, pose, jump, invalidate]);

  const apply = useMemo(
    () => (seconds: number) => {
      let swings = false;
      const { values, turns } = now.current;
      drive(figure, values, turns);
      skinMatrices(figure, values, turns, rig.matrices);
      rig.bones.forEach((bone, j) => {
        bone.matrixWorld.copy(item(rig.matrices, j));
      });
      reshape(figure.geometry, skin.source, skin.influence(now.current));
      for (const { mesh, correctives, ride, bones } of pieces) {
        if (mesh.follows) reshape(mesh.geometry, mesh.source, influence(mesh, correctives, now.current));
        if (!ride) continue;
        const change = Float32Array.from(values, (v, s) => v - f32(mesh.madeAt, s));
        const at = ride.at(change, rig.matrices, seconds);
        bones.forEach((bone, r) => {
          bone.matrixWorld.copy(item(at.matrices, r));
        });
        swings ||= at.moving;
      }
      return swings;
    },
    [figure, rig, pieces, skin],
  );

  useEffect(() => {
    apply(0);
    invalidate();
  }, [apply, invalidate]);
  const swinging = useRef(false);

  const playing = useMemo(() => motion && player(motion, figure), [motion, figure]);
  useEffect(() => {
    if (playing) return invalidate();
    move.current = { from: copy(now.current), to: target.current, start: performance.now(), length: MOVE_MS };
    invalidate();
  }, [playing, invalidate]);

  useFrame((_, seconds) => {
    performance.mark(TEXT.stageDrawn, { detail: worn.length });
    for (const { mesh, correctives } of pieces)
      if (mesh.geometry.userData.dirty) reshape(mesh.geometry, mesh.source, influence(mesh, correctives, now.current));
    if (playing) {
      now.current.values = target.current.values.slice();
      now.current.turns = playing(performance.now() / 1000);
      apply(Math.min(seconds, 0.1));
      invalidate();
      return;
    }
    const m = move.current;
    if (!m) {
      if (!swinging.current) return;
      swinging.current = apply(Math.min(seconds, 0.1));
      invalidate();
      return;
    }
    const t = m.length ? Math.min((performance.now() - m.start) / m.length, 1) : 1;
    const ease = t * t * (3 - 2 * t);
    m.to.values.forEach((v, s) => {
      now.current.values[s] = f32(m.from.values, s) + (v - f32(m.from.values, s)) * ease;
    });
    const joints = new Set([...m.from.turns.keys(), ...m.to.turns.keys()]);
    now.current.turns = new Map();
    for (const j of joints) {
      const a = m.from.turns.get(j) ?? new Quaternion();
      now.current.turns.set(j, a.clone().slerp(m.to.turns.get(j) ?? new Quaternion(), ease));
    }
    swinging.current = apply(m.length ? Math.min(seconds, 0.1) : 0);
    if (t < 1) invalidate();
    else move.current = null;
    if (swinging.current) invalidate();
  });

  useMaps({ figure, rig, pieces, worn, standsOut, holes, bodyMode, wire, whole });

  return (
    <>
      <primitive object={rig.body} />
      {pieces.map((p) => (
        <primitive key={p.object.uuid} object={p.object} />
      ))}
    </>
  );
}

function copy(state: { values: Float32Array; turns: Map<number, Quaternion>; lift: number }) {
  return {
    values: state.values.slice(),
    turns: new Map([...state.turns].map(([j, q]) => [j, q.clone()])),
    lift: state.lift,
  };
}
