import { Matrix4, Quaternion, Vector3 } from "three";
import { describe, expect, it } from "vitest";
import { item } from "../../src/recipe/at";
import { type Correctives, carriedMatrices, correctiveValues, RiderRig, type Riders } from "../../src/stage/mesh/worn";

const turn = (angle: number, axis = new Vector3(0, 0, 1)) => new Quaternion().setFromAxisAngle(axis, angle);
const riders = (more: Partial<Riders> = {}): Riders => ({
  first: 2,
  count: 1,
  places: new Float32Array([0.2, 1, 0]),
  moves: new Float32Array([0, 0.1, 0]),
  joints: new Uint16Array([0, 1, 0, 0]),
  weights: new Float32Array([0.5, 0.5, 0, 0]),
  above: new Int32Array([-1]),
  ends: new Float32Array([0.2, 0.8, 0]),
  spring: null,
  ...more,
});

describe("what a rigid part is carried by", () => {
  it("is the joint's own motion where both joints move alike", () => {
    const motion = new Matrix4().makeRotationFromQuaternion(turn(0.8)).setPosition(0.3, -0.1, 0.5);
    const out = item(carriedMatrices(riders(), new Float32Array([0]), [motion, motion]), 0);
    out.elements.forEach((e, i) => {
      expect(e).toBeCloseTo(item(motion.elements, i), 6);
    });
  });

  it("neither stretches nor shears it where the joints part, and keeps its place where the blend puts it", () => {
    const parted = [new Matrix4(), new Matrix4().makeRotationFromQuaternion(turn(1.4))];
    const out = item(carriedMatrices(riders(), new Float32Array([0]), parted), 0);
    expect(out.determinant()).toBeCloseTo(1, 6);
    const at = new Vector3(0.2, 1, 0);
    const middle = parted
      .map((m) => at.clone().applyMatrix4(m))
      .reduce((a, b) => a.add(b))
      .multiplyScalar(0.5);
    expect(at.clone().applyMatrix4(out).distanceTo(middle)).toBeLessThan(1e-6);
    expect(new Quaternion().setFromRotationMatrix(out).angleTo(turn(0.7))).toBeLessThan(1e-6);
  });

  it("goes with the wearer's shape", () => {
    const still = new RiderRig(riders({ moves: new Float32Array([0, 0.1, 0]) }), true).at(
      new Float32Array([2]),
      [new Matrix4(), new Matrix4()],
      0,
    );
    expect(still.moving).toBe(false);
    expect(new Vector3(0.2, 1.2, 0).applyMatrix4(item(still.matrices, 0)).y).toBeCloseTo(1.2, 6);
  });
});

describe("how much of a corrective comes in", () => {
  const width = 0.6;
  const angle = 1.2;
  const between = Math.exp(-0.5 * (angle / width) ** 2);
  // the table of one example beside rest solves [1 b; b 1] w = [0; 1]
  const scale = 1 / (1 - between * between);
  const one: Correctives = {
    list: [
      { shapes: [], example: 0 },
      { shapes: [[1, 0.5]], example: -1 },
      { shapes: [[1, 0.5]], example: 0 },
    ],
    joints: [4],
    turns: new Float32Array(turn(angle).toArray()),
    told: new Float32Array([1]),
    width: new Float32Array([width, width]),
    table: new Float32Array([-between * scale, scale]),
    examples: 1,
  };
  const at = (values: number[], angle: number) => [
    ...correctiveValues(one, new Float32Array(values), new Map([[4, turn(angle)]])),
  ];

  it("is all of it in its own pose and nothing at rest", () => {
    expect(at([0, 0], angle)[0]).toBeCloseTo(1, 5);
    expect(at([0, 0], 0)[0]).toBeCloseTo(0, 5);
    expect([...correctiveValues(one, new Float32Array(2), new Map())][0]).toBeCloseTo(0, 5);
  });

  it("grows on the way there and is the same for a turn told the other way round", () => {
    const shares = [0.2, 0.5, 0.8, 1.1].map((a) => at([0, 0], a)[0]);
    expect(shares).toEqual([...shares].sort((a, b) => (a ?? 0) - (b ?? 0)));
    const other = turn(angle);
    const same = correctiveValues(
      one,
      new Float32Array(2),
      new Map([[4, new Quaternion(-other.x, -other.y, -other.z, -other.w)]]),
    );
    expect(same[0]).toBeCloseTo(1, 5);
  });

  it("follows its shape in proportion, no further than half as much again", () => {
    expect([0, 0.25, 0.5, 2, -1].map((v) => at([0, v], angle)[1])).toEqual([0, 0.5, 1, 1.5, 0]);
    expect(at([0, 0.25], angle)[2]).toBeCloseTo(0.5, 5);
  });
});
