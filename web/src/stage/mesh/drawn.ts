import { BufferAttribute, BufferGeometry } from "three";
import type { Frame } from "../../api/wire/frames";
import { f32, i16, i32 } from "../../recipe/at";
import { setSkin } from "./weights";

/** What a geometry was built from. */
export interface Source {
  points: Float32Array;
  triangles: Int32Array;
  deltas: Delta[];
  /** The vertex each drawn point is, where texture seams split them; null where each is its own. */
  rows: Int32Array | null;
}

/** The rows of vertices a shape moves, and by how many hundredths of a millimetre. */
export interface Delta {
  rows: Int32Array;
  steps: Int16Array;
}
export const STEP = 1e-5;

/** Area-weighted vertex normals of `points` over `triangles`. */
export function normalsOf(points: Float32Array, triangles: Int32Array, out: Float32Array): void {
  out.fill(0);
  for (let t = 0; t < triangles.length; t += 3) {
    const a = 3 * i32(triangles, t);
    const b = 3 * i32(triangles, t + 1);
    const c = 3 * i32(triangles, t + 2);
    const ux = f32(points, b) - f32(points, a);
    const uy = f32(points, b + 1) - f32(points, a + 1);
    const uz = f32(points, b + 2) - f32(points, a + 2);
    const vx = f32(points, c) - f32(points, a);
    const vy = f32(points, c + 1) - f32(points, a + 1);
    const vz = f32(points, c + 2) - f32(points, a + 2);
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    out[a] = f32(out, a) + nx;
    out[a + 1] = f32(out, a + 1) + ny;
    out[a + 2] = f32(out, a + 2) + nz;
    out[b] = f32(out, b) + nx;
    out[b + 1] = f32(out, b + 1) + ny;
    out[b + 2] = f32(out, b + 2) + nz;
    out[c] = f32(out, c) + nx;
    out[c + 1] = f32(out, c + 1) + ny;
    out[c + 2] = f32(out, c + 2) + nz;
  }
  for (let i = 0; i < out.length; i += 3) {
    const l =
      Math.sqrt(f32(out, i) * f32(out, i) + f32(out, i + 1) * f32(out, i + 1) + f32(out, i + 2) * f32(out, i + 2)) || 1;
    out[i] = f32(out, i) / l;
    out[i + 1] = f32(out, i + 1) / l;
    out[i + 2] = f32(out, i + 2) / l;
  }
}

/** Points split so that each has one place in the texture: the drawn corners, the vertex of each point, and its place. */
function split(triangles: Int32Array, uv: Float32Array) {
  const seen = new Map<string, number>();
  const corners = new Uint32Array(triangles.length);
  const rows: number[] = [];
  const places: number[] = [];
  triangles.forEach((vertex, corner) => {
    const u = f32(uv, 2 * corner);
    const v = f32(uv, 2 * corner + 1);
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
    for (let k = 0; k < width; k++) out[i * width + k] = values[row * width + k] as number;
  });
  return out;
}

/** A geometry of points and triangles, split where texture seams are; `rows` lead from drawn points to vertices. */
export function build(points: Float32Array, triangles: Int32Array, uv?: Float32Array) {
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
      const at = 3 * i32(rows, i);
      out[at] = f32(out, at) + weight * i16(steps, k);
      out[at + 1] = f32(out, at + 1) + weight * i16(steps, k + 1);
      out[at + 2] = f32(out, at + 2) + weight * i16(steps, k + 2);
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

/** The rows each shape moves, as the server sends them. */
export function movedRows(frame: Frame<unknown>): Delta[] {
  const rows = frame.array<Int32Array>("delta_rows");
  const steps = frame.array<Int16Array>("delta_steps");
  let start = 0;
  return Array.from(frame.array<Int32Array>("delta_counts"), (count) => {
    const delta = { rows: rows.subarray(start, start + count), steps: steps.subarray(3 * start, 3 * (start + count)) };
    start += count;
    return delta;
  });
}

/** Put the joints and weights of a frame on a geometry; how many bear on a vertex. */
export function skin(geometry: BufferGeometry, frame: Frame<unknown>, rows: Int32Array | null): number {
  return setSkin(geometry, frame.array<Uint16Array>("skin_joints"), frame.array<Float32Array>("skin_weights"), rows);
}
