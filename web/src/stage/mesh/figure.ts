import { type BufferGeometry, Matrix4, type Quaternion, Vector3 } from "three";
import { fetchFrame } from "../../api/wire/frames";
import { f32, i16, i32, item, u16 } from "../../recipe/at";
import { build, movedRows, type Source, STEP, skin } from "./drawn";
import { quality } from "./quality";

/** The figure as the server sends it, ready for the stage. */
export interface Figure {
  geometry: BufferGeometry;
  source: Source;
  shapes: string[];
  /** Shapes a pose sets: shape index, and the joint whose bend drives it. */
  driven: [number, number][];
  /** How many vertices are the body's own; those of horns and tail follow. */
  own: number;
  joints: string[];
  parents: Int32Array;
  positions: Float32Array;
  jointDeltas: Float32Array;
  floor: { index: Int32Array; points: Float32Array; deltas: Float32Array; joints: Uint16Array; weights: Float32Array };
}

interface FigureNotes {
  joint_names: string[];
  shapes: string[];
  driven: [number, number][];
  own: number;
}

/** The house's figure, or a body of one's own by its address. */
export async function fetchFigure(body?: string | null): Promise<Figure> {
  const own = body ? `&body=${body}` : "";
  const frame = await fetchFrame<FigureNotes>(`/api/figure?level=${quality.level}${own}`);
  const points = frame.array<Float32Array>("points");
  const triangles = frame.array<Int32Array>("triangles");
  const deltas = movedRows(frame);
  const { geometry } = build(points, triangles);
  skin(geometry, frame, null);
  const index = frame.array<Int32Array>("floor");
  const pick = <T extends Float32Array | Uint16Array>(from: T, width: number): T => {
    const out = new (from.constructor as new (n: number) => T)(index.length * width);
    index.forEach((row, i) => {
      for (let k = 0; k < width; k++) out[i * width + k] = from[row * width + k] as number;
    });
    return out;
  };
  const floorDeltas = new Float32Array(deltas.length * index.length * 3);
  const place = new Int32Array(points.length / 3).fill(-1);
  index.forEach((row, i) => {
    place[row] = i;
  });
  deltas.forEach(({ rows, steps }, s) => {
    rows.forEach((row, i) => {
      const at = 3 * (s * index.length + i32(place, row));
      if (i32(place, row) >= 0) for (let a = 0; a < 3; a++) floorDeltas[at + a] = STEP * i16(steps, 3 * i + a);
    });
  });
  return {
    geometry,
    source: { points, triangles, deltas, rows: null },
    shapes: frame.notes.shapes,
    driven: frame.notes.driven,
    own: frame.notes.own,
    joints: frame.notes.joint_names,
    parents: frame.array<Int32Array>("joint_parents"),
    positions: frame.array<Float32Array>("joints"),
    jointDeltas: frame.array<Float32Array>("joint_deltas"),
    floor: {
      index,
      points: pick(points, 3),
      deltas: floorDeltas,
      joints: pick(frame.array<Uint16Array>("skin_joints"), 4),
      weights: pick(frame.array<Float32Array>("skin_weights"), 4),
    },
  };
}

const WHOLE_BEND = Math.sin((65 * Math.PI) / 180) ** 2;

/** Set the shapes that a pose drives: sin^2 of half the joint's angle, 1 at 130 degrees. */
export function drive(figure: Figure, values: Float32Array, rotations: Map<number, Quaternion>): void {
  for (const [shape, joint] of figure.driven) {
    const turn = rotations.get(joint);
    values[shape] = turn ? (1 - turn.w * turn.w) / WHOLE_BEND : 0;
  }
}

/** Skin matrices of the figure at shape `values` with local `rotations` by joint index; the lowest floor vertex is put on Y = 0. */
export function skinMatrices(
  figure: Figure,
  values: Float32Array,
  rotations: Map<number, Quaternion>,
  out: Matrix4[],
): number {
  const count = figure.joints.length;
  const rest: Vector3[] = [];
  const local = new Matrix4();
  const world: Matrix4[] = [];
  for (let j = 0; j < count; j++) {
    const p = new Vector3(figure.positions[3 * j], figure.positions[3 * j + 1], figure.positions[3 * j + 2]);
    for (let s = 0; s < values.length; s++) {
      const d = 3 * (s * count + j);
      p.x += f32(values, s) * f32(figure.jointDeltas, d);
      p.y += f32(values, s) * f32(figure.jointDeltas, d + 1);
      p.z += f32(values, s) * f32(figure.jointDeltas, d + 2);
    }
    rest.push(p);
    const parent = i32(figure.parents, j);
    const offset = parent < 0 ? p.clone() : p.clone().sub(item(rest, parent));
    const turn = rotations.get(j);
    if (turn) local.makeRotationFromQuaternion(turn).setPosition(offset);
    else local.makeTranslation(offset.x, offset.y, offset.z);
    world.push(parent < 0 ? local.clone() : item(world, parent).clone().multiply(local));
    item(out, j)
      .copy(item(world, j))
      .multiply(new Matrix4().makeTranslation(-p.x, -p.y, -p.z));
  }
  const lift = -lowest(figure, values, out);
  const up = new Matrix4().makeTranslation(0, lift, 0);
  for (const m of out) m.premultiply(up);
  return lift;
}

function lowest(figure: Figure, values: Float32Array, matrices: Matrix4[]): number {
  const { points, deltas, joints, weights, index } = figure.floor;
  const at = points.slice();
  values.forEach((value, s) => {
    if (value) for (let i = 0, d = s * at.length; i < at.length; i++, d++) at[i] = f32(at, i) + value * f32(deltas, d);
  });
  let low = Number.POSITIVE_INFINITY;
  for (let i = 0; i < index.length; i++) {
    let height = 0;
    for (let k = 0; k < 4; k++) {
      const w = weights[4 * i + k];
      if (!w) continue;
      const e = item(matrices, u16(joints, 4 * i + k)).elements;
      height += w * (e[1] * f32(at, 3 * i) + e[5] * f32(at, 3 * i + 1) + e[9] * f32(at, 3 * i + 2) + e[13]);
    }
    low = Math.min(low, height);
  }
  return low;
}
