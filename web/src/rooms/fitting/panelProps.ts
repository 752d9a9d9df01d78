import type { Piece, Step } from "../../api/client";

/** What every step's panel gets: the piece, and how to keep a change. */
export interface PanelProps {
  piece: Piece;
  onKeep(step: Step, label: string): void;
}
