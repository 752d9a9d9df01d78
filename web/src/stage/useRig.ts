import { useMemo } from "react";
import { Bone, Matrix4, Skeleton, SkinnedMesh } from "three";
import { toneOf } from "../theme/palette";
import { MapMaterial } from "./mesh/cloth";
import { type Dressed, dress, prepare } from "./mesh/dressed";
import type { Figure } from "./mesh/figure";
import type { PieceMesh } from "./mesh/piece";
import type { Worn } from "./useMaps";

/** The body and each piece as objects on one set of joints. */
export function useRig(figure: Figure, worn: Worn[]) {
  const rig = useMemo(() => {
    const bones = figure.joints.map(() => new Bone());
    for (const bone of bones) bone.matrixAutoUpdate = false;
    const skeleton = new Skeleton(
      bones,
      bones.map(() => new Matrix4()),
    );
    const material = new MapMaterial(toneOf("clay"), 0.72, 0, false);
    const body = new SkinnedMesh(figure.geometry, material);
    prepare(body, figure.geometry);
    body.bind(skeleton, new Matrix4());
    return { skeleton, bones, body, material, matrices: bones.map(() => new Matrix4()) };
  }, [figure]);

  // a piece's object is made once for its mesh, whatever else about it changes
  const made = useMemo(() => ({ rig, objects: new WeakMap<PieceMesh, Dressed>() }), [rig]);
  const pieces = useMemo(
    () =>
      worn.map(({ mesh, id }) => {
        let dressed = made.objects.get(mesh);
        if (!dressed) {
          dressed = dress(mesh, made.rig.skeleton, figure);
          made.objects.set(mesh, dressed);
        }
        return { ...dressed, mesh, id };
      }),
    [made, worn, figure],
  );
  return { rig, pieces };
}
