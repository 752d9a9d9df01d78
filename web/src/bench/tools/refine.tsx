import { Button, Hint } from "../../ui/controls";
import { TEXT } from "../texts";
import type { WorkTool } from "../tool";

const tool: WorkTool<"refine"> = {
  kind: "refine",
  describe: (step) => (step.where === "all" ? TEXT.refine : TEXT.refineAtJoints),
  Panel: ({ onAdd }) => (
    <>
      <Hint text={TEXT.finerFacesWhereThe}>
        <Button onClick={() => onAdd({ kind: "refine", where: "joints", longest: 0.012 }, TEXT.refineAtJoints)}>
          {TEXT.refineAtJoints}
        </Button>
      </Hint>
      <Button onClick={() => onAdd({ kind: "refine", where: "all", longest: 0.001 }, TEXT.refine)}>
        {TEXT.refineAll}
      </Button>
    </>
  ),
};
export default tool;
