import { Matrix3, Matrix4, Quaternion, Vector3 } from "three";
import type { Frame } from "../../api/wire/frames";
import { f32, f64, item, u16 } from "../../recipe/at";
import { hang, type Links, type SpringOf, Swinging } from "./spring";

/** Joints of a piece's own, numbered from `first` on. */
export interface Riders {
  first: number;
  count: number;
  places: Float32Array;
  moves: Float32Array;
  joints: Uint16Array;
  weights: Float32Array;
  above: Int32Array;
  ends: Float32Array;
  spring: SpringOf | null;
}

interface Corrective {
  /** Shape index and the value at which it is whole. */
  shapes: [number, number][];
  example: number;
}

/** What brings a piece's correctives in. */
export interface Correctives {
  list: Corrective[];
  joints: number[];
  turns: Float32Array;
  told: Float32Array;
  width: Float32Array;
  table: Float32Array;
  examples: number;
}

export interface WornNotes {
  riders: { first: number; spring: SpringOf | null } | null;
  examples: { joints: string[]; count: number } | null;
  correctives: { shapes: [string, number][]; example: number }[];
  /** How the skin gives way under it, brought in alike. */
  yields: { shapes: [string, number][]; example: number }[];
}

/** Where a body stands: its shape values and the turns of its joints. */
export interface Stance {
  values: Float32Array;
  turns: Map<number, Quaternion>;
}

export function ridersOf(frame: Frame<Partial<WornNotes>>): Riders | null {
  const notes = frame.notes.riders;
  if (!notes) return null;
  const above = frame.array<Int32Array>("rider_above");
  return {
    first: notes.first,
    count: above.length,
    places: frame.array<Float32Array>("rider_places"),
    moves: frame.array<Float32Array>("rider_moves"),
    joints: frame.array<Uint16Array>("rider_joints"),
    weights: frame.array<Float32Array>("rider_weights"),
    above,
    ends: frame.array<Float32Array>("rider_ends"),
    spring: notes.spring,
  };
}

/** A piece's correctives, or those by which the skin gives way under it, on a figure's shapes and joints. */
export function correctivesOf(
  frame: Frame<Partial<WornNotes>>,
  shapes: string[],
  joints: string[],
  which: "correctives" | "yields" = "correctives",
): Correctives | null {
  const { examples } = frame.notes;
  const correctives = frame.notes[which];
  if (!correctives?.length) return null;
  const none = new Float32Array(0);
  return {
    list: correctives.map((c) => ({
      shapes: c.shapes.map(([name, whole]) => [shapes.indexOf(name), whole]),
      example: c.example,
    })),
    joints: examples?.joints.map((j) => joints.indexOf(j)) ?? [],
    turns: examples ? frame.array<Float32Array>("example_turns") : none,
    told: examples ? frame.array<Float32Array>("example_told") : none,
    width: examples ? frame.array<Float32Array>("example_width") : none,
    table: examples ? frame.array<Float32Array>("example_table") : none,
    examples: examples?.count ?? 0,
  };
}

/** How much of each corrective comes in at shape values and joint turns: as core/model/correctives.py says. */
export function correctiveValues(c: Correctives, values: Float32Array, turns: Map<number, Quaternion>): Float32Array {
  const shares = c.examples && c.joints.length ? exampleShares(c, turns) : new Float32Array(c.examples);
  return Float32Array.from(c.list, ({ shapes, example }) => {
    let value = example < 0 ? 1 : f32(shares, example);
    for (const [shape, whole] of shapes) value *= Math.min(Math.max((values[shape] ?? 0) / whole, 0), 1.5);
    return value;
  });
}

function exampleShares(c: Correctives, turns: Map<number, Quaternion>): Float32Array {
  const count = c.joints.length;
  const kernel = new Float32Array(c.examples + 1);
  const rest = new Quaternion();
  const at = new Quaternion();
  for (let e = 0; e <= c.examples; e++) {
    let square = 0;
    c.joints.forEach((joint, k) => {
      const here = turns.get(joint) ?? rest;
      if (e) at.fromArray(c.turns, 4 * ((e - 1) * count + k));
      else at.identity();
      const told = e ? f32(c.told, (e - 1) * count + k) : anyTold(c, k);
      square += told * (2 * Math.acos(Math.min(Math.abs(here.dot(at)), 1))) ** 2;
    });
    kernel[e] = Math.exp((-0.5 * square) / f32(c.width, e) ** 2);
  }
  return Float32Array.from({ length: c.examples }, (_, e) => {
    let share = 0;
    for (let k = 0; k <= c.examples; k++) share += f32(kernel, k) * f32(c.table, k * c.examples + e);
    return Math.min(Math.max(share, 0), 1);
  });
}

/** Rest is told by every joint that tells an example. */
function anyTold(c: Correctives, joint: number): number {
  for (let e = 0; e < c.examples; e++) if (c.told[e * c.joints.length + joint]) return 1;
  return 0;
}

/** The links of riders on a spring, resting where shape values changed by `change` put them. */
export function linksOf(riders: Riders, change: Float32Array): Links {
  const places = shifted(riders, riders.places, change);
  const ends = shifted(riders, riders.ends, change);
  return { places, ends, above: riders.above, spring: riders.spring as SpringOf };
}

function shifted(riders: Riders, from: Float32Array, change: Float32Array): Vector3[] {
  return Array.from({ length: riders.count }, (_, r) => {
    const p = new Vector3().fromArray(from, 3 * r);
    change.forEach((value, s) => {
      const at = 3 * (s * riders.count + r);
      if (value) {
        p.x += value * f32(riders.moves, at);
        p.y += value * f32(riders.moves, at + 1);
        p.z += value * f32(riders.moves, at + 2);
      }
    });
    return p;
  });
}

/** Each rider's skin matrix as it is carried: the joints' blend with stretch and shear taken out about its place. */
export function carriedMatrices(riders: Riders, change: Float32Array, matrices: Matrix4[]): Matrix4[] {
  const places = shifted(riders, riders.places, change);
  return places.map((place, r) => {
    const sum = new Float64Array(16);
    for (let k = 0; k < 4; k++) {
      const w = riders.weights[4 * r + k];
      if (!w) continue;
      const e = item(matrices, u16(riders.joints, 4 * r + k)).elements;
      for (let i = 0; i < 16; i++) sum[i] = f64(sum, i) + w * item(e, i);
    }
    const blend = new Matrix4().fromArray(Array.from(sum));
    const there = place.clone().applyMatrix4(blend);
    const turn = rotationOf(blend);
    const out = new Matrix4().setFromMatrix3(turn);
    return out.setPosition(there.sub(place.clone().applyMatrix3(turn)));
  });
}

/** The rotation nearest to a matrix. Follows: Higham, Computing the polar decomposition, 1986. */
function rotationOf(m: Matrix4): Matrix3 {
  const r = new Matrix3().setFromMatrix4(m);
  for (let i = 0; i < 12; i++) {
    const back = r.clone().invert().transpose();
    for (let k = 0; k < 9; k++) r.elements[k] = 0.5 * (item(r.elements, k) + item(back.elements, k));
  }
  return r;
}

/** Moves the riders of one piece on the stage; those on springs swing on until they are still. */
export class RiderRig {
  private state: Swinging | null = null;

  constructor(
    readonly riders: Riders,
    private readonly still: boolean,
  ) {}

  /** Matrices for this frame, `seconds` after the last; `moving` says whether anything swings yet. */
  at(change: Float32Array, matrices: Matrix4[], seconds: number): { matrices: Matrix4[]; moving: boolean } {
    const carried = carriedMatrices(this.riders, change, matrices);
    if (!this.riders.spring) return { matrices: carried, moving: false };
    const links = linksOf(this.riders, change);
    if (this.still || seconds <= 0 || !this.state) {
      const out = hang(links, carried);
      this.state = new Swinging(links, out);
      return { matrices: out, moving: false };
    }
    this.state.links = links;
    const out = this.state.advance(carried, Math.min(seconds, 0.1));
    return { matrices: out, moving: this.state.fastest() > 0.02 };
  }
}
