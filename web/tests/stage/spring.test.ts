import { Matrix4, Quaternion, Vector3 } from "three";
import { describe, expect, it } from "vitest";
import { item } from "../../src/recipe/at";
import { hang, type Links, Swinging } from "../../src/stage/mesh/spring";

const LONG = 0.3;

/** Rods end to end along x. */
function rods(count: number, spring: Partial<Links["spring"]> = {}): Links {
  return {
    places: Array.from({ length: count }, (_, i) => new Vector3(i * LONG, 0, 0)),
    ends: Array.from({ length: count }, (_, i) => new Vector3((i + 1) * LONG, 0, 0)),
    above: Int32Array.from({ length: count }, (_, i) => i - 1),
    spring: { stiffness: 0, damping: 0, gravity: 1, limit: Math.PI, ...spring },
  };
}
const still = (count: number) => Array.from({ length: count }, () => new Matrix4());
const tip = (links: Links, out: Matrix4[]) =>
  item(links.ends, links.ends.length - 1)
    .clone()
    .applyMatrix4(item(out, out.length - 1));

describe("rods on springs", () => {
  it("hang straight down without stiffness", () => {
    const links = rods(3, { damping: 2 });
    const end = tip(links, hang(links, still(3)));
    expect(end.y).toBeCloseTo(-3 * LONG, 3);
    expect(Math.hypot(end.x, end.z)).toBeLessThan(0.02);
  });

  it("stay as they are carried without weight", () => {
    const links = rods(2, { gravity: 0, stiffness: 40 });
    const turn = new Matrix4().makeRotationFromQuaternion(new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), 0.7));
    const end = tip(links, hang(links, [turn, turn]));
    expect(end.distanceTo(new Vector3(2 * LONG, 0, 0).applyMatrix4(turn))).toBeLessThan(1e-4);
  });

  it("swing in the time of a uniform rod: 2 pi sqrt(2 L / 3 g)", () => {
    const down = new Quaternion().setFromAxisAngle(new Vector3(0, 0, 1), -Math.PI / 2 + 0.1);
    const links = rods(1);
    const state = new Swinging(links, [new Matrix4().makeRotationFromQuaternion(down)]);
    const crossed: number[] = [];
    let before = 1;
    for (let k = 1; k < 2000 && crossed.length < 3; k++) {
      const x = tip(links, state.advance(still(1), 1 / 240)).x;
      if (before > 0 !== x > 0) crossed.push(k / 240);
      before = x;
    }
    const period = item(crossed, 2) - item(crossed, 0);
    expect(period).toBeCloseTo(2 * Math.PI * Math.sqrt((2 * LONG) / (3 * 9.81)), 1);
  });

  it("stop at their limit", () => {
    const links = rods(1, { damping: 2, limit: 0.4 });
    const end = tip(links, hang(links, still(1)));
    expect(Math.acos(end.x / end.length())).toBeCloseTo(0.4, 2);
    expect(end.length()).toBeCloseTo(LONG, 6);
  });

  it("come to rest at the same place however long a frame lasts", () => {
    const links = rods(2, { stiffness: 30, damping: 8 });
    const ends = [1 / 30, 1 / 120].map((frame) => {
      const state = new Swinging(links, still(2));
      let out = still(2);
      for (let t = 0; t < 4; t += frame) out = state.advance(still(2), frame);
      return tip(links, out);
    });
    expect(item(ends, 0).distanceTo(item(ends, 1))).toBeLessThan(2e-3);
  });
});
