import { useParts } from "../../api/work";
import { Button } from "../../ui/controls";
import type { ToolProps, WorkTool } from "../tool";

function LooseParts({ piece, onAdd }: ToolProps) {
  const parts = useParts(piece);
  const loose = parts.data?.slice(1) ?? [];
  if (!loose.length) return null;
  return (
    <details className="w-full">
      <summary className="cursor-pointer text-soft">Loose parts ({loose.length})</summary>
      <Button
        className="my-1"
        onClick={() => onAdd({ kind: "drop", parts: loose.map((p) => p.row) }, "Take all loose parts off")}
      >
        Take all of them off
      </Button>
      <ul className="max-h-32 overflow-y-auto">
        {loose.map((part, i) => (
          <li key={part.row} className="flex items-center gap-2">
            <span className="truncate">
              {part.material} {i + 1}
            </span>
            <span className="ml-auto text-[11.5px] text-soft">{(part.size * 100).toFixed(1)} cm</span>
            <Button
              look="quiet"
              className="px-1 py-0.5"
              onClick={() => onAdd({ kind: "drop", parts: [part.row] }, `Take ${part.material} ${i + 1} off`)}
            >
              Take off
            </Button>
          </li>
        ))}
      </ul>
    </details>
  );
}

const tool: WorkTool<"drop"> = { kind: "drop", describe: () => "Take parts off", Panel: LooseParts };
export default tool;
