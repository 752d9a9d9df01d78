import { describe, expect, it, vi } from "vitest";
import { f32, i32 } from "../../src/recipe/at";
import { frameOf } from "../framed";

vi.mock("../../src/stage/mesh/quality", () => ({ quality: { level: 1, shadows: false, smooth: false } }));
const { fetchPiece, showPoints } = await import("../../src/stage/mesh/piece");

const MATERIALS = ["oilskin", "brass", "lining"].map((name) => ({ name, colour: [1, 1, 1], roughness: 1, metal: 0 }));
/** Six faces in a strip, of three materials that take turns, and the places of their corners in the texture. */
const POINTS = Float32Array.from({ length: 24 }, (_, i) => ((7 * i) % 11) / 10);
const TRIANGLES = Int32Array.from([0, 1, 2, 1, 2, 3, 2, 3, 4, 3, 4, 5, 4, 5, 6, 5, 6, 7]);
const OF = Int32Array.from([2, 0, 1, 0, 2, 1]);
const PLACES = Float32Array.from({ length: 36 }, (_, i) => i / 36);

async function piece(more: Record<string, ArrayBufferView> = {}, notes: object = {}) {
  const arrays = {
    points: POINTS,
    triangles: TRIANGLES,
    triangle_material: OF,
    made_at: new Float32Array([0.5, 0]),
    ...more,
  };
  const frame = frameOf(arrays, { materials: MATERIALS, riders: null, examples: null, ...notes });
  vi.stubGlobal("fetch", async () => new Response(frame));
  const made = await fetchPiece("0".repeat(64));
  vi.unstubAllGlobals();
  return made;
}

/** The faces that are drawn, each by the points of its corners and its material. */
function drawn({ geometry }: Awaited<ReturnType<typeof piece>>): string[] {
  const index = geometry.getIndex()?.array ?? [];
  const position = geometry.getAttribute("position").array;
  return geometry.groups.flatMap(({ start, count, materialIndex }) =>
    Array.from({ length: count / 3 }, (_, k) =>
      [0, 1, 2]
        .flatMap((c) =>
          [0, 1, 2].map((a) => f32(position as Float32Array, 3 * (index[start + 3 * k + c] as number) + a)),
        )
        .concat(materialIndex ?? 0)
        .join(),
    ),
  );
}

const wanted = (kept: number[]) =>
  kept.map((t) =>
    [0, 1, 2]
      .flatMap((c) => [0, 1, 2].map((a) => f32(POINTS, 3 * i32(TRIANGLES, 3 * t + c) + a)))
      .concat(i32(OF, t))
      .join(),
  );

describe("a piece from the server", () => {
  it("draws every face once, in the material it is of", async () => {
    const made = await piece();
    expect(drawn(made).sort()).toEqual(wanted([0, 1, 2, 3, 4, 5]).sort());
    expect(made.geometry.groups.map((g) => g.count)).toEqual([6, 6, 6]);
    expect([made.bound, made.follows, made.hidden]).toEqual([false, false, null]);
  });

  it("does not draw the faces that are left out, nor a material of which none is left", async () => {
    const made = await piece({ left_out: Int32Array.from([2, 5, 0]) });
    expect(drawn(made).sort()).toEqual(wanted([1, 3, 4]).sort());
    expect(made.geometry.groups.map((g) => g.materialIndex)).toEqual([0, 2]);
  });

  it("keeps each corner's place in the texture when its faces are put in order", async () => {
    const { geometry } = await piece({ corner_uv: PLACES });
    const uv = geometry.getAttribute("uv");
    const index = geometry.getIndex();
    const order = [1, 3, 2, 5, 0, 4]; // by material, and in it as they came
    order.forEach((t, at) => {
      for (let c = 0; c < 3; c++) {
        const point = index?.getX(3 * at + c) ?? -1;
        expect(uv.getX(point)).toBeCloseTo(f32(PLACES, 6 * t + 2 * c));
        expect(uv.getY(point)).toBeCloseTo(f32(PLACES, 6 * t + 2 * c + 1));
      }
    });
  });

  it("knows what moves it", async () => {
    const deltas = { delta_counts: Int32Array.from([1, 2]), delta_rows: Int32Array.from([4, 0, 7]) };
    const made = await piece({ ...deltas, delta_steps: Int16Array.from([1, 2, 3, 4, 5, 6, 7, 8, 9]) });
    expect(made.follows).toBe(true);
    expect(made.source.deltas.map((d) => [...d.rows])).toEqual([[4], [0, 7]]);
    expect([...(made.source.deltas[1]?.steps ?? [])]).toEqual([4, 5, 6, 7, 8, 9]);
  });

  it("shows other points at once and keeps the server's", async () => {
    const made = await piece();
    showPoints(made, Float32Array.from([9, 9, 9, 8, 8, 8]), Int32Array.from([2, 6]));
    expect([...made.source.points.subarray(6, 9)]).toEqual([9, 9, 9]);
    expect([...made.source.points.subarray(18, 21)]).toEqual([8, 8, 8]);
    expect(made.kept).toEqual(POINTS);
    expect(made.geometry.userData.dirty).toBe(true);
    showPoints(made, POINTS);
    expect(made.source.points).toEqual(POINTS);
  });
});
