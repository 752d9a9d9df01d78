import { useKept } from "../../store/kept";
import { Button, NumberField } from "../../ui/controls";
import { TEXT } from "../texts";
import type { ToolProps, WorkTool } from "../tool";

function Thicken({ onAdd }: ToolProps) {
  const [thick, setThick] = useKept("thicken thickness", 2);
  return (
    <div className="flex w-full items-end gap-1.5">
      <div className="w-24">
        <NumberField
          label={TEXT.thickness}
          unit="mm"
          value={thick}
          onCommit={(v) => setThick(Math.min(50, Math.max(0.2, v)))}
        />
      </div>
      <Button onClick={() => onAdd({ kind: "thicken", thick: thick / 1000 }, TEXT.thickenMm(thick))}>
        {TEXT.thicken}
      </Button>
    </div>
  );
}

const tool: WorkTool<"thicken"> = {
  kind: "thicken",
  describe: (step) => TEXT.thickenMm2(((step.thick ?? 0.002) * 1000).toFixed(1)),
  Panel: Thicken,
};
export default tool;
