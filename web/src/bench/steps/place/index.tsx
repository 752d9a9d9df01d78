import { stepOf } from "../../../recipe/recipe";
import type { BenchFolder } from "../../step";
import { PlacePanel } from "./PlacePanel";
import { TEXT } from "./texts";

const step: BenchFolder = {
  Panel: (props) => <PlacePanel {...props} wearer={props.fitting.wearer?.id} />,
  summary: ({ recipe }) => {
    const place = stepOf(recipe, "place");
    const by = Math.hypot(...(place?.move ?? [0, 0, 0])) * 100;
    const size = place?.scale ?? 1;
    return by > 0.05 || size !== 1 ? `${by.toFixed(1)} cm, × ${size.toFixed(2)}` : TEXT.asItCame;
  },
  takeBack: TEXT.takeThisStepBack,
};
export default step;
