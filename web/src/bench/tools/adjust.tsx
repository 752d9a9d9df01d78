import type { WorkTool } from "../tool";

const tool: WorkTool<"adjust"> = {
  kind: "adjust",
  describe: (step) => `Adjust ${Object.values(step.values ?? {}).filter((value) => value).length}`,
};
export default tool;
