import type { BenchFolder } from "../../step";
import { FinishPanel } from "./FinishPanel";

const step: BenchFolder = {
  Panel: ({ piece, busy, onRecipe }) => (
    <FinishPanel piece={piece} busy={busy} onKeep={(finish, label) => onRecipe({ ...piece.recipe, finish }, label)} />
  ),
  summary: ({ report: { finish } }) => (finish ? `${finish.triangles.toLocaleString("en")} faces` : ""),
  begunInPanel: true,
  optional: true,
  takeBack: "Take all finishing back",
};
export default step;
