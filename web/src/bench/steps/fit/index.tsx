import type { BenchFolder } from "../../step";
import { FitPanel } from "./FitPanel";

const step: BenchFolder = {
  Panel: (props) => <FitPanel {...props} wearer={props.fitting.wearer?.id} />,
  summary: ({ report: { fit } }) => {
    if (!fit) return "";
    return fit.resting_mean === null || fit.resting_spread === null
      ? `ease ${(fit.ease * 1000).toFixed(0)} mm`
      : `ease ${(fit.resting_mean * 1000).toFixed(1)} ± ${(fit.resting_spread * 1000).toFixed(1)} mm`;
  },
  restsOnAll: true,
  takeBack: "Take this step back",
};
export default step;
