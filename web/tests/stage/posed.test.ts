import {
  Bone,
  BufferAttribute,
  BufferGeometry,
  Matrix4,
  Quaternion,
  Scene,
  Skeleton,
  SkinnedMesh,
  Vector3,
} from "three";
import { describe, expect, it } from "vitest";
import type { PieceMesh } from "../../src/stage/mesh/piece";
import { posedMesh } from "../../src/stage/mesh/posed";
import { setSkin } from "../../src/stage/mesh/weights";

const COUNT = 30;
const JOINTS = 10;
let seed = 1;
/** A number from 0 to 1, the same in every run. */
const random = () => {
  seed = (seed * 48271) % 2147483647;
  return seed / 2147483647;
};

/** A skinned mesh on the stage whose joints stand anyhow; `width` joints bear on a vertex. */
function stage(width: 4 | 8) {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(Float32Array.from({ length: 3 * COUNT }, random), 3));
  geometry.setIndex(Array.from({ length: COUNT - 2 }, (_, i) => [i, i + 1, i + 2]).flat());
  const joints = Uint16Array.from({ length: width * COUNT }, () => Math.floor(random() * JOINTS));
  const weights = Float32Array.from({ length: width * COUNT }, random);
  for (let v = 0; v < COUNT; v++) {
    const own = weights.subarray(width * v, width * (v + 1));
    const sum = own.reduce((a, b) => a + b, 0);
    own.forEach((w, k) => {
      own[k] = w / sum;
    });
  }
  setSkin(geometry, joints, weights, null);
  const bones = Array.from({ length: JOINTS }, () => {
    const bone = new Bone();
    bone.position.set(random(), random(), random());
    bone.quaternion.copy(new Quaternion(random(), random(), random(), random()).normalize());
    bone.updateMatrixWorld(true);
    return bone;
  });
  const mesh = new SkinnedMesh(geometry);
  mesh.bind(
    new Skeleton(
      bones,
      bones.map(() => new Matrix4()),
    ),
    new Matrix4(),
  ); // prettier-ignore
  const scene = new Scene();
  scene.add(mesh, ...bones);
  return { scene, mesh, bones, joints, weights, piece: { geometry, width } as unknown as PieceMesh };
}

describe("a piece to be pointed at", () => {
  it("lies where three.js skins it", () => {
    const { scene, mesh, piece } = stage(4);
    const found = posedMesh(scene, piece)?.geometry.getAttribute("position");
    const at = new Vector3();
    for (let v = 0; v < COUNT; v++) {
      mesh.getVertexPosition(v, at);
      expect(at.distanceTo(new Vector3(found?.getX(v), found?.getY(v), found?.getZ(v)))).toBeLessThan(1e-5);
    }
  });

  it("lies at the mean of where its eight joints take it, by their weights", () => {
    const { scene, bones, joints, weights, piece } = stage(8);
    const found = posedMesh(scene, piece)?.geometry.getAttribute("position");
    const rest = piece.geometry.getAttribute("position");
    for (let v = 0; v < COUNT; v++) {
      const mean = new Vector3();
      for (let k = 0; k < 8; k++) {
        const bone = bones[joints[8 * v + k] as number] as Bone;
        mean.addScaledVector(
          new Vector3().fromBufferAttribute(rest, v).applyMatrix4(bone.matrixWorld),
          weights[8 * v + k] as number,
        );
      }
      expect(mean.distanceTo(new Vector3(found?.getX(v), found?.getY(v), found?.getZ(v)))).toBeLessThan(1e-5);
    }
  });

  it("is none where the piece is not on the stage", () => {
    const { piece } = stage(4);
    expect(posedMesh(new Scene(), piece)).toBeNull();
  });
});
