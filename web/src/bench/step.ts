import type { ReactNode } from "react";
import type { Piece, Production, Step } from "../api/client";
import type { PieceMesh } from "../stage/mesh/piece";
import type { Falling } from "./steps/drape/useFalling";
import type { Fitting } from "./useFitting";

/** A piece under the one on the bench: its name and its address. */
export interface Under {
  name: string;
  geometry: string;
}

/** What every step's panel gets: the piece as it stands and is drawn, what is about it, and how to keep a change. */
export interface StepProps {
  production: Production;
  piece: Piece;
  mesh: PieceMesh | undefined;
  under: Under[];
  fitting: Fitting;
  falling: Falling;
  /** A change is on its way. */
  busy: boolean;
  /** Put a step in its place in the recipe. */
  onKeep(step: Step, label: string): void;
  /** Keep a whole recipe. */
  onRecipe(recipe: Piece["recipe"], label: string): void;
}

/** A step of the bench in the browser: each folder of `steps` gives one. */
export interface BenchFolder {
  Panel(props: StepProps): ReactNode;
  /** What the done step states in figures, in a few words. */
  summary(piece: Piece): string;
  /** By default it rests on, and is kept off, all that is worn under it. */
  restsOnAll?: boolean;
  /** The panel begins the step itself: the bench offers no button for it. */
  begunInPanel?: boolean;
  /** It is there to be done, not owed: it is never the next step. */
  optional?: boolean;
  /** What takes the step back; none where it cannot be. */
  takeBack: string | null;
}
