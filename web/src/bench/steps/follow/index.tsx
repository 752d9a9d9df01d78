import type { BenchFolder } from "../../step";
import { FollowPanel } from "./FollowPanel";

const step: BenchFolder = {
  Panel: FollowPanel,
  summary: ({ report: { follow } }) => (follow ? `${follow.shapes} shapes` : ""),
  restsOnAll: true,
  takeBack: "Take this step back",
};
export default step;
