import type { BufferGeometry } from "three";
import { type Frame, fetchFrame } from "../../api/wire/frames";
import { i32 } from "../../recipe/at";
import { build, movedRows, type Source, skin } from "./drawn";
import { type Riders, ridersOf, type WornNotes } from "./worn";

/** A piece as the server sends it, ready for the stage. */
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

/** Show other points (of vertices `rows`, or all) of a piece at once, before the server has kept them. */
export function showPoints(mesh: PieceMesh, points: Float32Array, rows?: Int32Array): void {
  if (!rows) mesh.source.points.set(points);
  else
    rows.forEach((row, i) => {
      mesh.source.points.set(points.subarray(3 * i, 3 * i + 3), 3 * row);
    });
  mesh.geometry.userData.dirty = true;
}

export async function fetchPiece(sha: string): Promise<PieceMesh> {
  const frame = await fetchFrame<{ materials: PieceMesh["materials"] } & WornNotes>(`/api/pieces/geometry/${sha}`);
  const points = frame.array<Float32Array>("points");
  const triangles = frame.array<Int32Array>("triangles");
  const madeAt = frame.array<Float32Array>("made_at");
  const follows = frame.has("delta_rows");
  const deltas = follows ? movedRows(frame) : [];
  const material = frame.array<Int32Array>("triangle_material");
  const leftOut = new Set(frame.has("left_out") ? frame.array<Int32Array>("left_out") : []);
  const order = Array.from({ length: material.length }, (_, t) => t)
    .filter((t) => !leftOut.has(t))
    .sort((a, b) => i32(material, a) - i32(material, b) || a - b);
  const sorted = new Int32Array(3 * order.length);
  const places = frame.has("corner_uv") ? frame.array<Float32Array>("corner_uv") : null;
  const uv = places && new Float32Array(6 * order.length);
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
