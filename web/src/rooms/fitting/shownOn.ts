import type { CellAnswer } from "../../api/hooks";
import type { BenchStep } from "../../recipe/recipe";
import type { Mode } from "../../stage/mesh/cloth";
import type { PieceMesh } from "../../stage/mesh/piece";
import { jointShare } from "../../stage/mesh/weights";
import type { Weights } from "../../store/room";

/** One joint's share of a piece, or the vertices with a fault of its weights. */
export function weightsOn(
  mesh: PieceMesh,
  map: "weights" | "faults",
  joint: number,
  { faults }: Weights,
): { mode: Mode; measure: Float32Array | null; drawn: boolean } {
  if (map === "weights") return { mode: "weights", measure: jointShare(mesh, joint), drawn: true };
  const marked = new Float32Array(mesh.kept.length / 3);
  for (const row of faults) marked[row] = 1;
  return { mode: "faults", measure: marked, drawn: false };
}

/** What a piece shows: clearance if that is asked for; at the fit where it fell short, at work where it is protected. */
export function shownOn(
  step: BenchStep | null,
  mesh: PieceMesh,
  map: string,
  cell: CellAnswer | undefined,
  name: string,
): { mode: Mode; measure: Float32Array | null; drawn?: boolean } {
  const clearance = `clearance:${name}`;
  if (map === "clearance")
    return {
      mode: "clearance",
      measure: cell?.frame.has(clearance) ? cell.frame.array<Float32Array>(clearance) : null,
    };
  if (step === "fit" && mesh.trouble) return { mode: "trouble", measure: mesh.trouble };
  if (step === "work" && mesh.protect) return { mode: "protect", measure: mesh.protect };
  return { mode: "plain", measure: null };
}
