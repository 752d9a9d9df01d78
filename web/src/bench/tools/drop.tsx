import { useParts } from "../../api/work";
import { Button } from "../../ui/controls";
import { TEXT } from "../texts";
import type { ToolProps, WorkTool } from "../tool";

function LooseParts({ piece, onAdd }: ToolProps) {
  const parts = useParts(piece);
  const loose = parts.data?.slice(1) ?? [];
  if (!loose.length) return null;
  return (
    <details className="w-full">
      <summary className="cursor-pointer text-soft">{TEXT.looseParts(loose.length)}</summary>
      <Button
        className="my-1"
        onClick={() => onAdd({ kind: "drop", parts: loose.map((p) => p.row) }, TEXT.takeAllLooseParts)}
      >
        {TEXT.takeAllOfThem}
      </Button>
      <ul className="max-h-32 overflow-y-auto">
        {loose.map((part, i) => (
          <li key={part.row} className="flex items-center gap-2">
            <span className="truncate">
              {part.material} {i + 1}
            </span>
            <span className="ml-auto text-[11.5px] text-soft">{TEXT.cm((part.size * 100).toFixed(1))}</span>
            <Button
              look="quiet"
              className="px-1 py-0.5"
              onClick={() => onAdd({ kind: "drop", parts: [part.row] }, TEXT.takeOff(part.material, i + 1))}
            >
              {TEXT.takeOff2}
            </Button>
          </li>
        ))}
      </ul>
    </details>
  );
}

const tool: WorkTool<"drop"> = { kind: "drop", describe: () => TEXT.takePartsOff, Panel: LooseParts };
export default tool;
