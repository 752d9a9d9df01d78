import { Button } from "../../ui/controls";
import { TEXT } from "../texts";
import type { WorkTool } from "../tool";

const tool: WorkTool<"mirror"> = {
  kind: "mirror",
  describe: (step) => TEXT.mirrorTheHalf(step.keep ?? "left"),
  Panel: ({ onAdd }) => (
    <>
      <Button onClick={() => onAdd({ kind: "mirror", keep: "left" }, TEXT.mirrorTheLeftHalf)}>{TEXT.mirrorLeft}</Button>
      <Button onClick={() => onAdd({ kind: "mirror", keep: "right" }, TEXT.mirrorTheRightHalf)}>
        {TEXT.mirrorRight}
      </Button>
    </>
  ),
};
export default tool;
