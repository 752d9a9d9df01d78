import { expect, test } from "vitest";
import { miniature } from "../../src/recipe/miniature";

const ROOM = { across: 4, down: 3 };
const count = (n: number) => [...Array(n).keys()];

test("a small sheet is drawn cell by cell", () => {
  const cells = [
    [true, false],
    [null, true],
  ];
  expect(miniature(count(2), count(2), (r, c) => cells[r]?.[c] ?? null, ROOM)).toEqual([
    ["holds", "shows"],
    ["open", "holds"],
  ]);
});

test("of a large one a block says the worst of its cells, and none is left out", () => {
  const seen = new Set<string>();
  const drawn = miniature(
    count(200),
    count(103),
    (r, c) => {
      seen.add(`${r} ${c}`);
      return r === 199 && c === 102 ? false : r < 60 ? null : true;
    },
    ROOM,
  );
  expect(drawn).toEqual([
    ["open", "open", "open", "open"],
    ["holds", "holds", "holds", "holds"],
    ["holds", "holds", "holds", "shows"],
  ]);
  expect(seen.size).toBe(200 * 103);
});

test("without a pose there is nothing to draw", () => {
  expect(miniature(count(2), [], () => null, ROOM)).toEqual([[], []]);
});
