import { withWeigh } from "../../../recipe/recipe";
import type { BenchFolder } from "../../step";
import { BindPanel } from "./BindPanel";

const step: BenchFolder = {
  Panel: (props) => (
    <BindPanel {...props} onWeigh={(steps, label) => props.onRecipe(withWeigh(props.piece.recipe, steps), label)} />
  ),
  summary: ({ report: { bind } }) => (bind ? `${bind.joints} joints · ${bind.most} max` : ""),
  restsOnAll: true,
  takeBack: "Take this step back",
};
export default step;
