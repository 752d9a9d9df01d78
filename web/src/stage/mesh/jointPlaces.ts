import { Matrix4, Quaternion, Vector3 } from "three";
import { item } from "../../recipe/at";
import { drive, type Figure, skinMatrices } from "./figure";

/** Where joints stand on the stage, by the same matrices that carry the skin. */
export function jointPlaces(
  figure: Figure,
  shape: Record<string, number>,
  rotations: Record<string, number[]>,
  joints: string[],
): { joint: string; at: Vector3 }[] {
  const values = Float32Array.from(figure.shapes, (s) => shape[s] ?? 0);
  const turns = new Map<number, Quaternion>();
  for (const [joint, q] of Object.entries(rotations)) {
    const index = figure.joints.indexOf(joint);
    if (index >= 0) turns.set(index, new Quaternion(q[0], q[1], q[2], q[3]));
  }
  drive(figure, values, turns);
  const matrices = figure.joints.map(() => new Matrix4());
  skinMatrices(figure, values, turns, matrices);
  const count = figure.joints.length;
  return joints.flatMap((joint) => {
    const j = figure.joints.indexOf(joint);
    if (j < 0) return [];
    const rest = new Vector3().fromArray(figure.positions, 3 * j);
    values.forEach((value, s) => {
      if (value) rest.addScaledVector(new Vector3().fromArray(figure.jointDeltas, 3 * (s * count + j)), value);
    });
    return [{ joint, at: rest.applyMatrix4(item(matrices, j)) }];
  });
}
