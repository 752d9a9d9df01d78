import { BufferAttribute, BufferGeometry, Matrix4, type Quaternion, Vector3 } from "three";
import { type Frame, fetchFrame } from "../api/frames";
import { quality } from "./quality";
import { setSkin } from "./weights";
import { type Riders, ridersOf, type WornNotes } from "./worn";

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

/** What a geometry was built from. */
export interface Source {
  points: Float32Array;
  triangles: Int32Array;
  deltas: Delta[];
  /** The vertex each drawn point is, where texture seams split them; null where each is its own. */
  rows: Int32Array | null;
}

/** The rows of vertices a shape moves, and by how many hundredths of a millimetre. */
interface Delta {
  rows: Int32Array;
  steps: Int16Array;
}
const STEP = 1e-5;

export interface PieceMesh {
  geometry: BufferGeometry;
  source: Source;
  materials: {
    name: string;
    colour: number[];
    roughness: number;
    metal: number;
    colour_map?: string | null;
    normal_map?: string | null;
    rough_map?: string | null;
  }[];
  madeAt: Float32Array;
  bound: boolean;
  follows: boolean;
  /** How far each vertex stayed from what its fit asked for (metres), and the mask that holds hand tools back. */
  trouble: Float32Array | null;
  protect: Float32Array | null;
  /** Faces of the body left out under it. */
  hidden: Int32Array | null;
  /** The row of the received mesh each vertex came from. */
  received: Int32Array | null;
  /** The points as the server keeps them. */
  kept: Float32Array;
  /** How many joints bear on a vertex, 4 or 8. */
  width: number;
  riders: Riders | null;
  /** The frame it came in, from which its correctives are read for the figure that wears it. */
  frame: Frame<Partial<WornNotes>>;
}

/** Area-weighted vertex normals of `points` over `triangles`. */
export function normalsOf(points: Float32Array, triangles: Int32Array, out: Float32Array): void {
  out.fill(0);
  for (let t = 0; t < triangles.length; t += 3) {
    const a = 3 * triangles[t];
    const b = 3 * triangles[t + 1];
    const c = 3 * triangles[t + 2];
    const ux = points[b] - points[a];
    const uy = points[b + 1] - points[a + 1];
    const uz = points[b + 2] - points[a + 2];
    const vx = points[c] - points[a];
    const vy = points[c + 1] - points[a + 1];
    const vz = points[c + 2] - points[a + 2];
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    out[a] += nx;
    out[a + 1] += ny;
    out[a + 2] += nz;
    out[b] += nx;
    out[b + 1] += ny;
    out[b + 2] += nz;
    out[c] += nx;
    out[c + 1] += ny;
    out[c + 2] += nz;
  }
  for (let i = 0; i < out.length; i += 3) {
    const l = Math.sqrt(out[i] * out[i] + out[i + 1] * out[i + 1] + out[i + 2] * out[i + 2]) || 1;
    out[i] /= l;
    out[i + 1] /= l;
    out[i + 2] /= l;
  }
}

/** Points split so that each has one place in the texture: the drawn corners, the vertex of each point, and its place. */
function split(triangles: Int32Array, uv: Float32Array) {
  const seen = new Map<string, number>();
  const corners = new Uint32Array(triangles.length);
  const rows: number[] = [];
  const places: number[] = [];
  triangles.forEach((vertex, corner) => {
    const u = uv[2 * corner];
    const v = uv[2 * corner + 1];
    const key = `${vertex} ${u.toFixed(5)} ${v.toFixed(5)}`;
    let at = seen.get(key);
    if (at === undefined) {
      at = rows.length;
      seen.set(key, at);
      rows.push(vertex);
      places.push(u, v);
    }
    corners[corner] = at;
  });
  return { corners, rows: Int32Array.from(rows), places: Float32Array.from(places) };
}

/** The values of vertices (`width` each) for the points drawn. */
export function spread<T extends Float32Array | Uint16Array>(values: T, rows: Int32Array | null, width: number): T {
  if (!rows) return values;
  const out = new (values.constructor as new (n: number) => T)(rows.length * width);
  rows.forEach((row, i) => {
    for (let k = 0; k < width; k++) out[i * width + k] = values[row * width + k];
  });
  return out;
}

function build(points: Float32Array, triangles: Int32Array, uv?: Float32Array) {
  const geometry = new BufferGeometry();
  const normals = new Float32Array(points.length);
  normalsOf(points, triangles, normals);
  const seams = uv ? split(triangles, uv) : null;
  const rows = seams?.rows ?? null;
  geometry.setAttribute("position", new BufferAttribute(spread(points, rows, 3).slice(), 3));
  geometry.setAttribute("normal", new BufferAttribute(spread(normals, rows, 3), 3));
  geometry.setIndex(new BufferAttribute(seams?.corners ?? new Uint32Array(triangles), 1));
  if (seams) geometry.setAttribute("uv", new BufferAttribute(seams.places, 2));
  geometry.setAttribute("aMeasure", new BufferAttribute(new Float32Array(rows?.length ?? points.length / 3), 1));
  geometry.computeBoundingSphere();
  if (geometry.boundingSphere) geometry.boundingSphere.radius = 4; // shapes and poses reach beyond the rest mesh
  return { geometry, rows };
}

/**
 * Sum the shapes into position and normal. Only the shapes in use are walked, and of each only the rows it moves: with dozens of
 * shapes this is less work than a morph texture of them all.
 */
export function reshape(geometry: BufferGeometry, source: Source, influence: (shape: number) => number): void {
  const { dirty } = geometry.userData;
  if (!source.deltas.length && !dirty) return;
  const key = source.deltas.map((_, s) => influence(s).toFixed(4)).join();
  if (geometry.userData.reshaped === key && !dirty) return;
  geometry.userData.dirty = false;
  geometry.userData.reshaped = key;
  const position = geometry.getAttribute("position");
  const normal = geometry.getAttribute("normal");
  const { rows: split } = source;
  const out = split ? new Float32Array(source.points.length) : (position.array as Float32Array);
  out.set(source.points);
  source.deltas.forEach(({ rows, steps }, s) => {
    const weight = influence(s) * STEP;
    if (weight === 0) return;
    for (let i = 0, k = 0; i < rows.length; i++, k += 3) {
      const at = 3 * rows[i];
      out[at] += weight * steps[k];
      out[at + 1] += weight * steps[k + 1];
      out[at + 2] += weight * steps[k + 2];
    }
  });
  const facing = split ? new Float32Array(out.length) : (normal.array as Float32Array);
  normalsOf(out, source.triangles, facing);
  if (split) {
    (position.array as Float32Array).set(spread(out, split, 3));
    (normal.array as Float32Array).set(spread(facing, split, 3));
  }
  position.needsUpdate = true;
  normal.needsUpdate = true;
}

/** Show other points (of vertices `rows`, or all) of a piece at once, before the server has kept them. */
export function showPoints(mesh: PieceMesh, points: Float32Array, rows?: Int32Array): void {
  if (!rows) mesh.source.points.set(points);
  else
    rows.forEach((row, i) => {
      mesh.source.points.set(points.subarray(3 * i, 3 * i + 3), 3 * row);
    });
  mesh.geometry.userData.dirty = true;
}

function movedRows(frame: Frame<unknown>): Delta[] {
  const rows = frame.array<Int32Array>("delta_rows");
  const steps = frame.array<Int16Array>("delta_steps");
  let start = 0;
  return Array.from(frame.array<Int32Array>("delta_counts"), (count) => {
    const delta = { rows: rows.subarray(start, start + count), steps: steps.subarray(3 * start, 3 * (start + count)) };
    start += count;
    return delta;
  });
}

function skin(geometry: BufferGeometry, frame: Frame<unknown>, rows: Int32Array | null): number {
  return setSkin(geometry, frame.array<Uint16Array>("skin_joints"), frame.array<Float32Array>("skin_weights"), rows);
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
      for (let k = 0; k < width; k++) out[i * width + k] = from[row * width + k];
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
      const at = 3 * (s * index.length + place[row]);
      if (place[row] >= 0) for (let a = 0; a < 3; a++) floorDeltas[at + a] = STEP * steps[3 * i + a];
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

export async function fetchPiece(sha: string): Promise<PieceMesh> {
  const frame = await fetchFrame<{ materials: PieceMesh["materials"] } & WornNotes>(`/api/pieces/geometry/${sha}`);
  const points = frame.array<Float32Array>("points");
  const triangles = frame.array<Int32Array>("triangles");
  const madeAt = frame.array<Float32Array>("made_at");
  const follows = frame.has("delta_rows");
  const deltas = follows ? movedRows(frame) : [];
  const material = frame.array<Int32Array>("triangle_material");
  const order = Array.from({ length: material.length }, (_, t) => t).sort((a, b) => material[a] - material[b] || a - b);
  const sorted = new Int32Array(triangles.length);
  const places = frame.has("corner_uv") ? frame.array<Float32Array>("corner_uv") : null;
  const uv = places && new Float32Array(places.length);
  order.forEach((t, i) => {
    sorted.set(triangles.subarray(3 * t, 3 * t + 3), 3 * i);
    if (uv && places) uv.set(places.subarray(6 * t, 6 * t + 6), 6 * i);
  });
  const { geometry, rows } = build(points, sorted, uv ?? undefined);
  let start = 0;
  for (let m = 0; m < frame.notes.materials.length; m++) {
    const count = 3 * order.filter((t) => material[t] === m).length;
    if (count) geometry.addGroup(start, count, m);
    start += count;
  }
  const bound = frame.has("skin_joints");
  const width = bound ? skin(geometry, frame, rows) : 4;
  return {
    geometry,
    source: { points: points.slice(), triangles: sorted, deltas, rows },
    kept: points,
    trouble: frame.has("trouble") ? frame.array<Float32Array>("trouble") : null,
    protect: frame.has("protect") ? frame.array<Float32Array>("protect").slice() : null,
    hidden: frame.has("hidden") ? frame.array<Int32Array>("hidden") : null,
    received: frame.has("received") ? frame.array<Int32Array>("received") : null,
    materials: frame.notes.materials,
    madeAt,
    bound,
    follows,
    width,
    riders: ridersOf(frame),
    frame,
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
      p.x += values[s] * figure.jointDeltas[d];
      p.y += values[s] * figure.jointDeltas[d + 1];
      p.z += values[s] * figure.jointDeltas[d + 2];
    }
    rest.push(p);
    const parent = figure.parents[j];
    const offset = parent < 0 ? p.clone() : p.clone().sub(rest[parent]);
    const turn = rotations.get(j);
    if (turn) local.makeRotationFromQuaternion(turn).setPosition(offset);
    else local.makeTranslation(offset.x, offset.y, offset.z);
    world.push(parent < 0 ? local.clone() : world[parent].clone().multiply(local));
    out[j].copy(world[j]).multiply(new Matrix4().makeTranslation(-p.x, -p.y, -p.z));
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
    if (value) for (let i = 0, d = s * at.length; i < at.length; i++, d++) at[i] += value * deltas[d];
  });
  let low = Number.POSITIVE_INFINITY;
  for (let i = 0; i < index.length; i++) {
    let height = 0;
    for (let k = 0; k < 4; k++) {
      const w = weights[4 * i + k];
      if (!w) continue;
      const e = matrices[joints[4 * i + k]].elements;
      height += w * (e[1] * at[3 * i] + e[5] * at[3 * i + 1] + e[9] * at[3 * i + 2] + e[13]);
    }
    low = Math.min(low, height);
  }
  return low;
}
