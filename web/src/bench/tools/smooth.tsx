import { fresh } from "../../recipe/recipe";
import { Button } from "../../ui/controls";
import { TEXT } from "../texts";
import type { WorkTool } from "../tool";

const tool: WorkTool<"smooth"> = {
  kind: "smooth",
  describe: () => TEXT.smooth,
  Panel: ({ onAdd }) => <Button onClick={() => onAdd(fresh("smooth"), TEXT.smooth)}>{TEXT.smooth}</Button>,
};
export default tool;
