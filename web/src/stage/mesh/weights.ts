import { BufferAttribute, type BufferGeometry } from "three";
import { f32, i32 } from "../../recipe/at";
import type { PieceMesh } from "./piece";

/** Put weights on a geometry, four joints a vertex in one attribute, eight in two; returns how many there are. */
export function setSkin(
  geometry: BufferGeometry,
  joints: Uint16Array,
  weights: Float32Array,
  rows: Int32Array | null,
): number {
  const count = rows?.length ?? geometry.getAttribute("position").count;
  const width = joints.length / (rows ? Math.max(...rows) + 1 : count) >= 8 ? 8 : 4;
  for (let set = 0; set < width / 4; set++) {
    const j = new Uint16Array(4 * count);
    const w = new Float32Array(4 * count);
    for (let i = 0; i < count; i++) {
      const from = width * (rows ? i32(rows, i) : i) + 4 * set;
      j.set(joints.subarray(from, from + 4), 4 * i);
      w.set(weights.subarray(from, from + 4), 4 * i);
    }
    geometry.setAttribute(set ? "skinIndex1" : "skinIndex", new BufferAttribute(j, 4));
    geometry.setAttribute(set ? "skinWeight1" : "skinWeight", new BufferAttribute(w, 4));
  }
  return width;
}

/** Show other weights of some vertices at once, before the server has kept them. */
export function setWeights(mesh: PieceMesh, rows: Int32Array, joints: Uint16Array, weights: Float32Array): void {
  const { geometry, width } = mesh;
  const split = mesh.source.rows;
  const place = new Map<number, number>();
  rows.forEach((row, i) => {
    place.set(row, i);
  });
  const count = split ? split.length : geometry.getAttribute("position").count;
  for (let set = 0; set < width / 4; set++) {
    const j = geometry.getAttribute(set ? "skinIndex1" : "skinIndex");
    const w = geometry.getAttribute(set ? "skinWeight1" : "skinWeight");
    const put = (vertex: number, i: number) => {
      for (let k = 0; k < 4; k++) {
        (j.array as Uint16Array)[4 * vertex + k] = joints[width * i + 4 * set + k] as number;
        (w.array as Float32Array)[4 * vertex + k] = weights[width * i + 4 * set + k] as number;
      }
    };
    if (split)
      for (let v = 0; v < count; v++) {
        const i = place.get(i32(split, v));
        if (i !== undefined) put(v, i);
      }
    else rows.forEach(put);
    j.needsUpdate = true;
    w.needsUpdate = true;
  }
}

/** How much of each drawn vertex one joint bears, 0 to 1. */
export function jointShare(mesh: PieceMesh, joint: number): Float32Array {
  const { geometry, width } = mesh;
  const count = geometry.getAttribute("position").count;
  const out = new Float32Array(count);
  if (!mesh.bound) return out;
  for (let set = 0; set < width / 4; set++) {
    const j = geometry.getAttribute(set ? "skinIndex1" : "skinIndex").array;
    const w = geometry.getAttribute(set ? "skinWeight1" : "skinWeight").array;
    for (let i = 0; i < 4 * count; i++) {
      const mine = j[i] as number;
      const own = mine === joint || (mesh.riders && mine >= mesh.riders.first && bears(mesh, mine, joint));
      if (own) out[i >> 2] = f32(out, i >> 2) + (w[i] as number);
    }
  }
  return out;
}

function bears(mesh: PieceMesh, rider: number, joint: number): boolean {
  const riders = mesh.riders;
  if (!riders) return false;
  const r = rider - riders.first;
  let best = 0;
  for (let k = 1; k < 4; k++) if (f32(riders.weights, 4 * r + k) > f32(riders.weights, 4 * r + best)) best = k;
  return riders.joints[4 * r + best] === joint;
}
