import { Vector3 } from "three";
import type { Figure } from "./mesh/figure";
import { jointPlaces } from "./mesh/jointPlaces";

export type CloseUp = "face" | "hands" | "feet";

/** Who stands on the stage, and how. */
interface Standing {
  figure: { data: Figure | undefined };
  shape: Record<string, number>;
  pose?: { rotations: Record<string, number[]> } | undefined;
}

/** The joints each is seen at, how far above them it is (metres), and how near one comes. Of two hands one is looked at, then the other. */
const SEEN: Record<CloseUp, { joints: string[]; above: number; zoom: number; oneByOne?: boolean }> = {
  face: { joints: ["skullbase"], above: 0.07, zoom: 5.5 },
  hands: { joints: ["l_radiocarpal", "r_radiocarpal"], above: -0.04, zoom: 7, oneByOne: true },
  feet: { joints: ["l_talocrural", "r_talocrural"], above: -0.02, zoom: 4 },
};

/** Where the camera is to look for a part of the wearer as they stand on the stage; null while there is no figure. */
export function closeUp(standing: Standing, part: CloseUp, from: [number, number, number] | null) {
  const figure = standing.figure.data;
  if (!figure) return null;
  const { joints, above, zoom, oneByOne } = SEEN[part];
  const found = jointPlaces(figure, standing.shape, standing.pose?.rotations ?? {}, joints).map(({ at }) =>
    at.add(new Vector3(0, above, 0)),
  );
  if (!found.length) return null;
  const seen = from && new Vector3(...from);
  const next = (oneByOne && found.find((at) => !seen || at.distanceTo(seen) > 0.02)) || null;
  const middle = found.reduce((sum, at) => sum.add(at), new Vector3()).divideScalar(found.length);
  return { zoom, target: (oneByOne && next ? next : middle).toArray() };
}
