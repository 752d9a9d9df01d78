import { Bone, type BufferAttribute, Matrix4, Mesh, Quaternion, Scene, Skeleton, SkinnedMesh, Vector3 } from "three";
import { describe, expect, it, vi } from "vitest";
import { f32, item } from "../../src/recipe/at";
import { build } from "../../src/stage/mesh/drawn";
import type { Figure } from "../../src/stage/mesh/figure";
import type { PieceMesh } from "../../src/stage/mesh/piece";
import { setSkin } from "../../src/stage/mesh/weights";

vi.mock("../../src/stage/mesh/quality", () => ({ quality: { level: 1, shadows: false, smooth: false } }));
const { drive, skinMatrices } = await import("../../src/stage/mesh/figure");
const { posedMesh } = await import("../../src/stage/mesh/posed");

/** A leg of three joints down from a hip at one metre, with a foot of three floor vertices. */
function leg(): Figure {
  const points = new Float32Array([-0.05, 0, 0.1, 0.05, 0, 0.1, 0, 0, -0.1]);
  return {
    geometry: build(points, new Int32Array([0, 1, 2])).geometry,
    source: { points, triangles: new Int32Array([0, 1, 2]), deltas: [], rows: null },
    shapes: ["tall", "calf"],
    driven: [[1, 1]],
    own: 3,
    joints: ["hip", "knee", "ankle"],
    parents: new Int32Array([-1, 0, 1]),
    positions: new Float32Array([0, 1, 0, 0, 0.5, 0, 0, 0.1, 0]),
    jointDeltas: new Float32Array([0, 0.2, 0, 0, 0.1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0]),
    floor: {
      index: new Int32Array([0, 1, 2]),
      points,
      deltas: new Float32Array(18),
      joints: new Uint16Array([2, 0, 0, 0, 2, 0, 0, 0, 2, 0, 0, 0]),
      weights: new Float32Array([1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0]),
    },
  };
}

const bend = (degrees: number) => new Quaternion().setFromAxisAngle(new Vector3(1, 0, 0), (degrees * Math.PI) / 180);
const matrices = () => [new Matrix4(), new Matrix4(), new Matrix4()];

describe("the figure's joints", () => {
  it("are those of three.js bones put the same way, but for the floor", () => {
    const figure = leg();
    const turns = new Map([
      [0, bend(-40)],
      [1, bend(70)],
      [2, bend(-15)],
    ]);
    const out = matrices();
    const lift = skinMatrices(figure, new Float32Array(2), turns, out);
    const bones = figure.joints.map(() => new Bone());
    bones.forEach((bone, j) => {
      const up = figure.parents[j] ?? -1;
      const at = new Vector3().fromArray(figure.positions, 3 * j);
      if (up >= 0) {
        item(bones, up).add(bone);
        at.sub(new Vector3().fromArray(figure.positions, 3 * up));
      }
      bone.position.copy(at);
    });
    item(bones, 0).updateMatrixWorld(true);
    const skeleton = new Skeleton(bones);
    turns.forEach((turn, j) => {
      item(bones, j).quaternion.copy(turn);
    });
    item(bones, 0).updateMatrixWorld(true);
    bones.forEach((bone, j) => {
      const theirs = bone.matrixWorld.clone().multiply(item(skeleton.boneInverses, j));
      theirs.premultiply(new Matrix4().makeTranslation(0, lift, 0));
      theirs.elements.forEach((e, k) => {
        expect(item(item(out, j).elements, k)).toBeCloseTo(e, 5);
      });
    });
  });

  it("stand on the floor in every pose and shape", () => {
    const figure = leg();
    for (const [tall, knee] of [
      [0, 0],
      [0, 90],
      [1, 35],
      [-1, 120],
    ] as const) {
      const out = matrices();
      skinMatrices(figure, new Float32Array([tall, 0]), new Map([[1, bend(knee)]]), out);
      const lows = [0, 1, 2].map(
        (v) => new Vector3().fromArray(figure.floor.points, 3 * v).applyMatrix4(item(out, 2)).y,
      );
      expect(Math.min(...lows)).toBeCloseTo(0, 6);
    }
  });

  it("move apart with the shape, and leave what stands at rest where it is", () => {
    const figure = leg();
    const out = matrices();
    expect(skinMatrices(figure, new Float32Array(2), new Map(), out)).toBeCloseTo(0, 6);
    for (const m of out)
      for (const [k, e] of new Matrix4().elements.entries()) expect(item(m.elements, k)).toBeCloseTo(e, 6);
  });
});

describe("shapes that a pose drives", () => {
  it("come in with the bend of their joint: none at rest, all at 130 degrees, the same for either sign", () => {
    const figure = leg();
    const at = (degrees: number) => {
      const values = new Float32Array(2);
      drive(figure, values, new Map([[1, bend(degrees)]]));
      return f32(values, 1);
    };
    expect(at(0)).toBeCloseTo(0, 6);
    expect(at(130)).toBeCloseTo(1, 5);
    expect(at(-65)).toBeCloseTo(at(65), 6);
    const values = new Float32Array([0.3, 0.9]);
    drive(figure, values, new Map());
    expect([...values]).toEqual([Math.fround(0.3), 0]);
  });
});

describe("a piece as it stands, skinned on the processor", () => {
  it("lies where three.js puts each vertex", () => {
    const points = new Float32Array([0, 0.9, 0, 0.1, 0.6, 0, 0, 0.3, 0.1, 0.1, 0.05, 0]);
    const { geometry } = build(points, new Int32Array([0, 1, 2, 1, 3, 2]));
    const joints = new Uint16Array([0, 0, 0, 0, 0, 1, 0, 0, 1, 2, 0, 0, 2, 1, 0, 0]);
    const weights = new Float32Array([1, 0, 0, 0, 0.4, 0.6, 0, 0, 0.7, 0.3, 0, 0, 0.9, 0.1, 0, 0]);
    const width = setSkin(geometry, joints, weights, null);
    const bones = [0, 1, 2].map(() => new Bone());
    bones.forEach((bone, j) => {
      bone.position.set(0.1 * j, 0.3, 0.05 * j);
      bone.quaternion.copy(bend(25 * j));
      if (j) item(bones, j - 1).add(bone);
    });
    const object = new SkinnedMesh(geometry);
    object.add(item(bones, 0));
    const inverses = bones.map(() => new Matrix4());
    object.bind(new Skeleton(bones, inverses), new Matrix4());
    const scene = new Scene();
    scene.add(object);
    scene.updateMatrixWorld(true);
    object.skeleton.update();
    const piece = { geometry, width } as unknown as PieceMesh;
    const posed = posedMesh(scene, piece);
    expect(posed).toBeInstanceOf(Mesh);
    const position = posed?.geometry.getAttribute("position") as BufferAttribute;
    for (let v = 0; v < 4; v++) {
      const theirs = object.applyBoneTransform(v, new Vector3().fromArray(points, 3 * v));
      const ours = new Vector3().fromBufferAttribute(position, v);
      expect(ours.distanceTo(theirs)).toBeLessThan(1e-5);
    }
    expect(posedMesh(new Scene(), piece)).toBeNull();
  });
});
