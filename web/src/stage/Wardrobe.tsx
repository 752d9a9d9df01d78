import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import {
  Bone,
  BufferAttribute,
  type BufferGeometry,
  Matrix4,
  Mesh,
  type Object3D,
  Quaternion,
  Skeleton,
  SkinnedMesh,
} from "three";
import type { Pose } from "../api/client";
import type { Frame } from "../api/frames";
import type { MotionNotes } from "../api/posing";
import { f32, item, u32 } from "../recipe/at";
import { MapMaterial, type Mode } from "./mesh/cloth";
import { reshape, spread } from "./mesh/drawn";
import { drive, type Figure, skinMatrices } from "./mesh/figure";
import type { PieceMesh } from "./mesh/piece";
import { type Correctives, correctivesOf, correctiveValues, RiderRig, type Stance } from "./mesh/worn";
import { dressedSkin } from "./mesh/yields";

const MOVE_MS = 300;

export interface Worn {
  id: number;
  mesh: PieceMesh;
  see: "solid" | "through";
  mode: Mode;
  wire: boolean;
  /** What the mode shows for each vertex, or for each point drawn (seams split them) if `drawn`. */
  measure: Float32Array | null;
  drawn?: boolean;
}

/** Skin that is missed is drawn as if it stood out so far (metres). */
const MISSED = 0.02;

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
  const rig = useMemo(() => {
    const bones = figure.joints.map(() => new Bone());
    for (const bone of bones) bone.matrixAutoUpdate = false;
    const skeleton = new Skeleton(
      bones,
      bones.map(() => new Matrix4()),
    );
    const material = new MapMaterial("#c6b9a2", 0.72, 0, false);
    const body = new SkinnedMesh(figure.geometry, material);
    prepare(body, figure.geometry);
    body.bind(skeleton, new Matrix4());
    return { skeleton, bones, body, material, matrices: bones.map(() => new Matrix4()) };
  }, [figure]);

  // a piece's object is made once for its mesh, whatever else about it changes
  const made = useMemo(() => ({ rig, objects: new WeakMap<PieceMesh, Dressed>() }), [rig]);
  const pieces = useMemo(
    () =>
      worn.map(({ mesh, id }) => {
        let dressed = made.objects.get(mesh);
        if (!dressed) {
          dressed = dress(mesh, made.rig.skeleton, figure);
          made.objects.set(mesh, dressed);
        }
        return { ...dressed, mesh, id };
      }),
    [made, worn, figure],
  );

  const skin = useMemo(() => {
    figure.geometry.userData.dirty = true;
    return dressedSkin(
      figure,
      pieces.map((p) => p.mesh),
    );
  }, [figure, pieces]);

  // skin that pieces hide is not drawn, but where it is missed
  const whole = useRef(new WeakMap<Figure, Uint32Array>());
  useEffect(() => {
    const hidden = new Set(worn.flatMap(({ mesh }) => (mesh.hidden ? [...mesh.hidden] : [])));
    const kept = whole.current.get(figure) ?? (figure.geometry.getIndex()?.array as Uint32Array);
    whole.current.set(figure, kept);
    for (const face of holes ?? []) hidden.delete(face);
    figure.geometry.setIndex(
      new BufferAttribute(hidden.size ? kept.filter((_, i) => !hidden.has(Math.floor(i / 3))) : kept, 1),
    );
    invalidate();
  }, [figure, worn, holes, invalidate]);

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
    performance.mark("stage drawn", { detail: worn.length });
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

  useEffect(() => {
    const kept = whole.current.get(figure);
    const marked = holes?.length && kept && standsOut ? standsOut.slice() : standsOut;
    if (marked && kept && marked !== standsOut)
      for (const face of holes ?? []) for (let k = 0; k < 3; k++) marked[u32(kept, 3 * face + k)] = MISSED;
    fill(figure.geometry, marked, figure.own);
    rig.material.show(bodyMode);
    rig.material.wireframe = wire;
    worn.forEach((w) => {
      const piece = pieces.find((p) => p.id === w.id);
      if (!piece) return;
      fill(piece.mesh.geometry, w.measure && (w.drawn ? w.measure : spread(w.measure, piece.mesh.source.rows, 1)));
      for (const material of piece.materials) {
        material.show(w.mode);
        material.wireframe = w.wire;
        const through = w.see === "through";
        if (material.transparent !== through) material.needsUpdate = true;
        material.transparent = through;
        material.opacity = through ? 0.38 : 1;
        material.depthWrite = !through;
      }
    });
    invalidate();
  }, [figure, rig, pieces, worn, standsOut, holes, bodyMode, wire, invalidate]);

  return (
    <>
      <primitive object={rig.body} />
      {pieces.map((p) => (
        <primitive key={p.object.uuid} object={p.object} />
      ))}
    </>
  );
}

/** The turns of a motion by joint index at a time in seconds, over and over, between its frames. */
function player(motion: Frame<MotionNotes>, figure: Figure): (seconds: number) => Map<number, Quaternion> {
  const { joints, seconds_per_frame } = motion.notes;
  const rotations = motion.array<Float32Array>("rotations");
  const width = 4 * joints.length;
  const frames = rotations.length / width;
  const index = joints.map((j) => figure.joints.indexOf(j));
  return (seconds) => {
    const t = (seconds / seconds_per_frame) % frames;
    const a = Math.floor(t);
    const turns = new Map<number, Quaternion>();
    index.forEach((joint, k) => {
      if (joint < 0) return;
      const from = new Quaternion().fromArray(rotations, a * width + 4 * k);
      const to = new Quaternion().fromArray(rotations, ((a + 1) % frames) * width + 4 * k);
      turns.set(joint, from.slerp(to, t - a));
    });
    return turns;
  };
}

interface Dressed {
  object: Mesh;
  materials: MapMaterial[];
  correctives: Correctives | null;
  ride: RiderRig | null;
  /** The piece's own joints. */
  bones: Bone[];
}

/** How much each of a piece's moves comes in: its shapes, then its correctives. */
function influence(mesh: PieceMesh, correctives: Correctives | null, { values, turns }: Stance) {
  const fixes = correctives && correctiveValues(correctives, values, turns);
  return (s: number) => (s < values.length ? f32(values, s) - f32(mesh.madeAt, s) : (fixes?.[s - values.length] ?? 0));
}

function dress(mesh: PieceMesh, skeleton: Skeleton, figure: Figure): Dressed {
  const materials = mesh.materials.map((m) => new MapMaterial(m.colour, m.roughness, m.metal, true, mesh.width === 8));
  const still = window.matchMedia("(prefers-reduced-motion: reduce)").matches;
  const bones = Array.from({ length: mesh.riders?.count ?? 0 }, () => new Bone());
  for (const bone of bones) bone.matrixAutoUpdate = false;
  const all = [...skeleton.bones.slice(0, mesh.riders?.first), ...bones]; // a tail grown later bears none of it
  const own = new Skeleton(
    all,
    all.map(() => new Matrix4()),
  );
  mesh.materials.forEach((m, k) => {
    item(materials, k).textured(m);
  });
  const object = mesh.bound ? new SkinnedMesh(mesh.geometry, materials) : new Mesh(mesh.geometry, materials);
  prepare(object, mesh.geometry);
  if (object instanceof SkinnedMesh) object.bind(bones.length ? own : skeleton, new Matrix4());
  return {
    object,
    materials,
    bones,
    correctives: correctivesOf(mesh.frame, figure.shapes, figure.joints),
    ride: mesh.riders && new RiderRig(mesh.riders, still),
  };
}

function prepare(object: Mesh, geometry: BufferGeometry): void {
  object.castShadow = true;
  object.receiveShadow = true;
  object.frustumCulled = false;
  object.raycast = () => {};
  object.name = geometry.uuid;
}

function fill(geometry: BufferGeometry, values: Float32Array | null, own?: number): void {
  const attribute = geometry.getAttribute("aMeasure");
  const array = attribute.array as Float32Array;
  // the server measures the finer level, whose first vertices are the coarser one's
  const count = own ?? array.length;
  array.fill(0);
  if (values && values.length >= count) array.set(values.subarray(0, count));
  attribute.needsUpdate = true;
}

function copy(state: { values: Float32Array; turns: Map<number, Quaternion>; lift: number }) {
  return {
    values: state.values.slice(),
    turns: new Map([...state.turns].map(([j, q]) => [j, q.clone()])),
    lift: state.lift,
  };
}
