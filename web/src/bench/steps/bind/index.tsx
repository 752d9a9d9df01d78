import { withWeigh } from "../../../recipe/recipe";
import type { BenchFolder } from "../../step";
import { BindPanel } from "./BindPanel";
import { TEXT } from "./texts";

const step: BenchFolder = {
  Panel: (props) => (
    <BindPanel {...props} onWeigh={(steps, label) => props.onRecipe(withWeigh(props.piece.recipe, steps), label)} />
  ),
  summary: ({ report: { bind } }) => (bind ? TEXT.jointsMax(bind.joints, bind.most) : ""),
  restsOnAll: true,
  takeBack: TEXT.takeThisStepBack,
};
export default step;
