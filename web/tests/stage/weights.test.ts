import { BufferAttribute, BufferGeometry } from "three";
import { describe, expect, it } from "vitest";
import { f32 } from "../../src/recipe/at";
import type { PieceMesh } from "../../src/stage/mesh/piece";
import { jointShare, setSkin, setWeights } from "../../src/stage/mesh/weights";

function piece(
  rows: Int32Array | null,
  joints: number[],
  weights: number[],
  riders: object | null = null,
  count = 1,
): PieceMesh {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(new Float32Array(3 * (rows?.length ?? count)), 3));
  const width = setSkin(geometry, new Uint16Array(joints), new Float32Array(weights), rows);
  return { geometry, width, source: { rows }, bound: true, riders } as unknown as PieceMesh;
}

describe("weights on the stage", () => {
  it("go to every vertex a seam has split one into", () => {
    const mesh = piece(new Int32Array([0, 1, 1, 0]), [3, 0, 0, 0, 3, 5, 0, 0], [1, 0, 0, 0, 0.25, 0.75, 0, 0]);
    expect([...jointShare(mesh, 3)]).toEqual([1, 0.25, 0.25, 1]);
    setWeights(mesh, new Int32Array([1]), new Uint16Array([3, 5, 0, 0]), new Float32Array([0.5, 0.5, 0, 0]));
    expect([...jointShare(mesh, 5)]).toEqual([0, 0.5, 0.5, 0]);
  });

  it("add up to one whichever joints bear a vertex, eight of them too", () => {
    const joints = [0, 1, 2, 3, 4, 5, 6, 7];
    const mesh = piece(
      null,
      joints,
      joints.map(() => 0.125),
    );
    expect(mesh.width).toBe(8);
    expect(joints.reduce((sum, j) => sum + f32(jointShare(mesh, j), 0), 0)).toBeCloseTo(1);
  });

  it("count a piece's own joint for the joint that mostly carries it", () => {
    const riders = { first: 9, joints: new Uint16Array([2, 4, 0, 0]), weights: new Float32Array([0.3, 0.7, 0, 0]) };
    const mesh = piece(null, [9, 2, 0, 0], [0.6, 0.4, 0, 0], riders);
    expect(jointShare(mesh, 4)[0]).toBeCloseTo(0.6);
    expect(jointShare(mesh, 2)[0]).toBeCloseTo(0.4);
  });
});
