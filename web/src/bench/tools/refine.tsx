import { Button, Hint } from "../../ui/controls";
import type { WorkTool } from "../tool";

const tool: WorkTool<"refine"> = {
  kind: "refine",
  describe: (step) => (step.where === "all" ? "Refine" : "Refine at joints"),
  Panel: ({ onAdd }) => (
    <>
      <Hint text="Finer faces where the body under it bends">
        <Button onClick={() => onAdd({ kind: "refine", where: "joints", longest: 0.012 }, "Refine at joints")}>
          Refine at joints
        </Button>
      </Hint>
      <Button onClick={() => onAdd({ kind: "refine", where: "all", longest: 0.001 }, "Refine")}>Refine all</Button>
    </>
  ),
};
export default tool;
