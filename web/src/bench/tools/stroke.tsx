import type { WorkTool } from "../tool";

const tool: WorkTool<"stroke"> = {
  kind: "stroke",
  describe: (step) => step.tool.charAt(0).toUpperCase() + step.tool.slice(1),
};
export default tool;
