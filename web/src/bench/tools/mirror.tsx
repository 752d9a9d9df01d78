import { Button } from "../../ui/controls";
import type { WorkTool } from "../tool";

const tool: WorkTool<"mirror"> = {
  kind: "mirror",
  describe: (step) => `Mirror the ${step.keep ?? "left"} half`,
  Panel: ({ onAdd }) => (
    <>
      <Button onClick={() => onAdd({ kind: "mirror", keep: "left" }, "Mirror the left half")}>Mirror left</Button>
      <Button onClick={() => onAdd({ kind: "mirror", keep: "right" }, "Mirror the right half")}>Mirror right</Button>
    </>
  ),
};
export default tool;
