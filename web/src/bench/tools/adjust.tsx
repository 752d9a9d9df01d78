import { TEXT } from "../texts";
import type { WorkTool } from "../tool";

const tool: WorkTool<"adjust"> = {
  kind: "adjust",
  describe: (step) => TEXT.adjust(Object.values(step.values ?? {}).filter((value) => value).length),
};
export default tool;
