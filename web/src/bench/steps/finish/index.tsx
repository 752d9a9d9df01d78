import type { BenchFolder } from "../../step";
import { FinishPanel } from "./FinishPanel";
import { TEXT } from "./texts";

const step: BenchFolder = {
  Panel: ({ piece, busy, onRecipe }) => (
    <FinishPanel piece={piece} busy={busy} onKeep={(finish, label) => onRecipe({ ...piece.recipe, finish }, label)} />
  ),
  summary: ({ report: { finish } }) => (finish ? TEXT.faces2(finish.triangles.toLocaleString("en")) : ""),
  begunInPanel: true,
  optional: true,
  takeBack: TEXT.takeAllFinishingBack,
};
export default step;
