import { describe, expect, it } from "vitest";
import { type Adjusters, pulled } from "../../src/api/work";

const named = (name: string) => ({ name, label: name, group: "sleeves", more: "", less: "" });
const FOUND: Adjusters = {
  adjusters: [named("flare"), named("lift")],
  openings: [],
  moves: [
    { rows: Int32Array.from([0, 2]), steps: Int16Array.from([100, 0, -50, 0, 32767, 0]) },
    { rows: Int32Array.from([2]), steps: Int16Array.from([0, -32768, 7]) },
  ],
};
const POINTS = Float32Array.from([1, 2, 3, 4, 5, 6, 7, 8, 9]);

describe("adjusters shown before the server has kept them", () => {
  it("move the rows they name by hundredths of a millimetre, each as far as it is pulled", () => {
    const out = pulled(POINTS, FOUND, { flare: 2, lift: -0.5 });
    const wanted = [1 + 2 * 1e-3, 2, 3 - 2 * 5e-4, 4, 5, 6, 7, 8 + 2 * 0.32767 + 0.5 * 0.32768, 9 - 0.5 * 7e-5];
    wanted.forEach((value, i) => {
      expect(out[i]).toBeCloseTo(value, 5);
    });
  });

  it("add up, whichever is pulled first, and leave what they are given", () => {
    const one = pulled(pulled(POINTS, FOUND, { flare: 1 }), FOUND, { lift: 1 });
    const other = pulled(pulled(POINTS, FOUND, { lift: 1 }), FOUND, { flare: 1 });
    const both = pulled(POINTS, FOUND, { flare: 1, lift: 1 });
    both.forEach((value, i) => {
      expect(one[i]).toBeCloseTo(value, 5);
      expect(other[i]).toBeCloseTo(value, 5);
    });
    expect([...POINTS]).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9]);
  });

  it("do nothing where none is pulled, or one that the piece does not have", () => {
    expect(pulled(POINTS, FOUND, {})).toEqual(POINTS);
    expect(pulled(POINTS, FOUND, { flare: 0, hood: 3 })).toEqual(POINTS);
  });
});
