import { BufferAttribute, BufferGeometry, type Matrix4, Mesh, type Scene, SkinnedMesh } from "three";
import { acceleratedRaycast, computeBoundsTree, disposeBoundsTree } from "three-mesh-bvh";
import { f32, item } from "../../recipe/at";
import type { PieceMesh } from "./piece";

/** The piece as it stands on the stage now, skinned on the processor, ready to be pointed at. */
export function posedMesh(scene: Scene, piece: PieceMesh): Mesh | null {
  let found: SkinnedMesh | null = null;
  scene.traverse((o) => {
    if (o instanceof SkinnedMesh && o.geometry === piece.geometry) found = o;
  });
  if (!found) return null;
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(posedPoints(found, piece), 3));
  geometry.setIndex(piece.geometry.getIndex());
  geometry.computeBoundsTree = computeBoundsTree;
  geometry.disposeBoundsTree = disposeBoundsTree;
  geometry.computeBoundsTree();
  const mesh = new Mesh(geometry);
  mesh.raycast = acceleratedRaycast;
  (mesh.material as { side: number }).side = 2;
  return mesh;
}

function posedPoints(object: SkinnedMesh, piece: PieceMesh): Float32Array {
  const bones = object.skeleton.bones.map((b) => (b.matrixWorld as Matrix4).elements);
  const position = piece.geometry.getAttribute("position").array as Float32Array;
  const out = new Float32Array(position.length);
  const sets = piece.width / 4;
  for (let set = 0; set < sets; set++) {
    const joints = piece.geometry.getAttribute(set ? "skinIndex1" : "skinIndex").array;
    const weights = piece.geometry.getAttribute(set ? "skinWeight1" : "skinWeight").array;
    for (let i = 0; i < position.length / 3; i++)
      for (let k = 0; k < 4; k++) {
        const w = weights[4 * i + k];
        if (!w) continue;
        const e = item(bones, joints[4 * i + k] as number);
        const x = f32(position, 3 * i);
        const y = f32(position, 3 * i + 1);
        const z = f32(position, 3 * i + 2);
        for (let a = 0; a < 3; a++)
          out[3 * i + a] =
            f32(out, 3 * i + a) + w * (item(e, a) * x + item(e, 4 + a) * y + item(e, 8 + a) * z + item(e, 12 + a));
      }
  }
  return out;
}
