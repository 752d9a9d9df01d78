import { fresh } from "../../recipe/recipe";
import { Button } from "../../ui/controls";
import type { WorkTool } from "../tool";

const tool: WorkTool<"smooth"> = {
  kind: "smooth",
  describe: () => "Smooth",
  Panel: ({ onAdd }) => <Button onClick={() => onAdd(fresh("smooth"), "Smooth")}>Smooth</Button>,
};
export default tool;
