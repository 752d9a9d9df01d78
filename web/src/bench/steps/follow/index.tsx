import type { BenchFolder } from "../../step";
import { FollowPanel } from "./FollowPanel";
import { TEXT } from "./texts";

const step: BenchFolder = {
  Panel: FollowPanel,
  summary: ({ report: { follow } }) => (follow ? TEXT.shapes(follow.shapes) : ""),
  restsOnAll: true,
  takeBack: TEXT.takeThisStepBack,
};
export default step;
