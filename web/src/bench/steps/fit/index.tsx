import type { BenchFolder } from "../../step";
import { FitPanel } from "./FitPanel";
import { TEXT } from "./texts";

const step: BenchFolder = {
  Panel: (props) => <FitPanel {...props} wearer={props.fitting.wearer?.id} />,
  summary: ({ report: { fit } }) => {
    if (!fit) return "";
    return fit.resting_mean === null || fit.resting_spread === null
      ? TEXT.easeMm((fit.ease * 1000).toFixed(0))
      : TEXT.easeMm2((fit.resting_mean * 1000).toFixed(1), (fit.resting_spread * 1000).toFixed(1));
  },
  restsOnAll: true,
  takeBack: TEXT.takeThisStepBack,
};
export default step;
