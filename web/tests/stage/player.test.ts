import { Quaternion, Vector3 } from "three";
import { describe, expect, it } from "vitest";
import type { MotionNotes } from "../../src/api/posing";
import type { Frame } from "../../src/api/wire/frames";
import type { Figure } from "../../src/stage/mesh/figure";
import { player } from "../../src/stage/mesh/player";

const about = (axis: Vector3, degrees: number) => new Quaternion().setFromAxisAngle(axis, (degrees * Math.PI) / 180);
const [X, Z] = [new Vector3(1, 0, 0), new Vector3(0, 0, 1)];
const figure = { joints: ["pelvis", "spine", "l_elbow"] } as unknown as Figure;

/** A motion of two joints of the figure and one that it does not have; turns by frame in degrees. */
function motion(elbow: number[], spine: number[]): Frame<MotionNotes> {
  const rotations = new Float32Array(
    elbow.flatMap((e, f) => [about(X, e), about(Z, 90), about(Z, spine[f] ?? 0)].flatMap((q) => q.toArray())),
  );
  return {
    notes: { joints: ["l_elbow", "tail_3", "spine"], seconds_per_frame: 0.5 },
    array: () => rotations,
  } as unknown as Frame<MotionNotes>;
}

describe("a motion played on the stage", () => {
  const play = player(motion([0, 40, 80, 20], [10, 10, -30, 0]), figure);
  const turn = (seconds: number, joint: number) => play(seconds).get(joint) as Quaternion;

  it.each([
    [0, 0],
    [0.5, 40],
    [1, 80],
    [1.5, 20],
  ])("stands in its frames at their times (%f s)", (seconds, degrees) => {
    expect(turn(seconds, 2).angleTo(about(X, degrees))).toBeCloseTo(0, 3);
  });

  it("turns evenly between two frames", () => {
    expect(turn(0.125, 2).angleTo(about(X, 10))).toBeCloseTo(0, 3);
    expect(turn(0.75, 2).angleTo(about(X, 60))).toBeCloseTo(0, 3);
    expect(turn(0.75, 1).angleTo(about(Z, -10))).toBeCloseTo(0, 3);
  });

  it("goes from its last frame to its first, over and over", () => {
    expect(turn(1.75, 2).angleTo(about(X, 10))).toBeCloseTo(0, 3);
    for (const joint of [1, 2]) expect(turn(6.3, joint).angleTo(turn(0.3, joint))).toBeCloseTo(0, 3);
  });

  it("turns no joint that the figure does not have", () => {
    expect([...play(0.2).keys()].sort()).toEqual([1, 2]);
  });

  it("takes the short way round between two frames", () => {
    const far = player(motion([170, -170], [0, 0]), figure)(0.25).get(2) as Quaternion;
    expect(far.angleTo(about(X, 180))).toBeCloseTo(0, 3);
  });
});
