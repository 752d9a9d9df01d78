import { expect, it } from "vitest";
import type { Frame } from "../../src/api/wire/frames";
import type { Figure } from "../../src/stage/mesh/figure";
import type { PieceMesh } from "../../src/stage/mesh/piece";
import type { WornNotes } from "../../src/stage/mesh/worn";
import { dressedSkin } from "../../src/stage/mesh/yields";

const own = { rows: new Int32Array([0]), steps: new Int16Array([5, 5, 5]) };
/** A figure of three vertices with one shape, "belly". */
const figure = {
  source: { points: new Float32Array(9), deltas: [own] },
  shapes: ["belly"],
  joints: ["l_hip"],
} as unknown as Figure;

/** A piece under which the skin gives way at rows 2, 0 and 7, in two ways: always, and with the belly. */
function piece(yields: WornNotes["yields"]): PieceMesh {
  const arrays: Record<string, unknown> = {
    yield_rows: new Int32Array([2, 0, 7]),
    yield_steps: new Int16Array([1, 2, 3, 4, 5, 6, 7, 8, 9, 11, 12, 13, 14, 15, 16, 17, 18, 19]),
  };
  const frame = { notes: { yields, examples: null }, array: (name: string) => arrays[name] };
  return { frame: frame as unknown as Frame<Partial<WornNotes>> } as PieceMesh;
}
const two: WornNotes["yields"] = [
  { shapes: [], example: -1 },
  { shapes: [["belly", 0.5]], example: -1 },
];
const stance = (...values: number[]) => ({ values: new Float32Array(values), turns: new Map() });

it("leaves the body as it is where nothing makes it give way", () => {
  const skin = dressedSkin(figure, [piece([])]);
  expect(skin.source.deltas).toEqual([own]);
  expect(skin.influence(stance(0.7))(0)).toBeCloseTo(0.7, 6);
  expect(skin.influence(stance(0.7))(1)).toBe(0);
});

it("puts each way beside the body's own moves, for the rows the coarser figure has", () => {
  const { source } = dressedSkin(figure, [piece(two)]);
  expect(source.deltas).toHaveLength(3);
  expect(source.deltas[1]).toEqual({ rows: new Int32Array([2, 0]), steps: new Int16Array([1, 2, 3, 4, 5, 6]) });
  expect(source.deltas[2]).toEqual({ rows: new Int32Array([2, 0]), steps: new Int16Array([11, 12, 13, 14, 15, 16]) });
  expect(figure.source.deltas).toHaveLength(1); // the figure itself is shared, and stays
});

it("brings each way in by its own share, the body's shapes by theirs", () => {
  const skin = dressedSkin(figure, [piece(two), piece(two.slice(0, 1))]);
  const shares = (belly: number) => [0, 1, 2, 3].map(skin.influence(stance(belly)));
  expect(shares(0)).toEqual([0, 1, 0, 1]);
  expect(shares(0.25)).toEqual([0.25, 1, 0.5, 1]);
});
