import type { WorkTool } from "../tool";

const tool: WorkTool<"adjust"> = {
  kind: "adjust",
  said: (step) => `Adjust ${Object.values(step.values ?? {}).filter((value) => value).length}`,
};
export default tool;
