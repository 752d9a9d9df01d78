import { cellAsked } from "../../../api/client";
import { benchStep, withStep, withWork, workOf } from "../../../recipe/recipe";
import type { BenchFolder, StepProps } from "../../step";
import { TEXT } from "./texts";
import { WorkPanel } from "./WorkPanel";

const step: BenchFolder = {
  Panel: (props) => (
    <WorkPanel
      {...props}
      onWork={(steps, label) => props.onRecipe(withWork(props.piece.recipe, steps), label)}
      poseName={props.fitting.chosen?.label.toLowerCase() ?? TEXT.thisPose}
      onPoseKeyed={bound(props.piece) ? (values) => keepForPose(props, values) : null}
    />
  ),
  summary: ({ recipe }) => {
    const n = workOf(recipe).length;
    return n ? `${n} ${n === 1 ? "alteration" : "alterations"}` : "";
  },
  begunInPanel: true,
  optional: true,
  takeBack: TEXT.takeAllWorkBack,
};
export default step;

const bound = (piece: StepProps["piece"]) => !!piece.recipe.steps?.some((s) => benchStep(s.kind) === "bind");

/** Keep adjusters for the pose on the stage alone: as a corrective, in place of the adjusters made last. */
function keepForPose({ piece, fitting, onRecipe }: StepProps, values: Record<string, number>) {
  const { body: _, ...cell } = cellAsked(fitting.shape, fitting.chosen);
  const made = workOf(piece.recipe);
  const rest = made.at(-1)?.kind === "adjust" ? made.slice(0, -1) : made;
  const recipe = withStep(withWork(piece.recipe, rest), { kind: "fix", cell, strokes: [], values });
  onRecipe(recipe, TEXT.adjustersOnlyIn(fitting.chosen?.label.toLowerCase() ?? ""));
}
