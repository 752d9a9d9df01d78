import type { ReactNode } from "react";
import type { Piece, Step, StepKind } from "../api/client";
import { type StepOf, workOf } from "../recipe/recipe";
import { STEPS } from "../recipe/steps";

export interface ToolProps {
  piece: Piece;
  /** Keep the work alterations as they are to stand. */
  onWork(work: Step[], label: string): void;
  /** Make one more alteration, after those made before. */
  onAdd(step: Step, label: string): void;
}

/** One kind of work alteration in the browser: each file of `tools` gives one. */
export interface WorkTool<K extends StepKind = StepKind> {
  kind: K;
  /** The alteration in a few words, for the list and for undo. */
  describe(step: StepOf<K>): string;
  /** What makes one, in the Cut tab; none where another tab does. */
  Panel?(props: ToolProps): ReactNode;
}

const files = import.meta.glob<WorkTool>("./tools/*.tsx", { eager: true, import: "default" });
const byKind = new Map(Object.values(files).map((tool) => [tool.kind as string, tool]));

/** The tools of the work step, in the order of the bench's list. */
export const TOOLS = STEPS.kinds.filter((step) => step.bench === "work").flatMap((step) => byKind.get(step.kind) ?? []);

/** An alteration in a few words. */
export function describe(step: Step): string {
  return byKind.get(step.kind ?? "")?.describe(step as never) ?? step.kind ?? "";
}

/** What adds an alteration after those a piece has. */
export function adding(piece: Piece, onWork: ToolProps["onWork"]): ToolProps["onAdd"] {
  return (step, label) => onWork([...workOf(piece.recipe), step], label);
}
