import clsx from "clsx";
import type { Panel, Side } from "../../../api/table";
import type { Tool } from "../useTable";
import { Tag } from "./PanelMarks";
import { edgePath } from "./panelPath";

interface Props {
  panel: Panel;
  side: Side;
  /** On the fold, the number of its seam or -1, chosen or pointed at, held fast. */
  look: { fold: boolean; seam: number; hot: boolean | null; fast: boolean };
  tool: Tool;
  scale: number;
  onOver(side: Side | null): void;
  onPick(): void;
  onSplit(at: React.MouseEvent): void;
}

/** One edge of a panel: drawn as what it is, picked over a wider band, with the number of its seam. */
export function PanelEdge({ panel, side, look, tool, scale, onOver, onPick, onSplit }: Props) {
  const { fold, seam, hot, fast } = look;
  const { edge, other } = side;
  return (
    <g>
      <path
        d={edgePath(panel, edge, other)}
        fill="none"
        className={clsx(hot || seam >= 0 ? "stroke-heron" : fold ? "stroke-soft" : "stroke-ink")}
        strokeWidth={(hot ? 3.2 : fast ? 3.4 : 1.4) * scale}
        strokeDasharray={
          fold
            ? `${12 * scale} ${4 * scale} ${2 * scale} ${4 * scale}`
            : seam >= 0
              ? `${6 * scale} ${4 * scale}`
              : undefined
        }
      />
      {!fold && tool !== "line" && (
        // biome-ignore lint/a11y/noStaticElementInteractions: an edge is picked by pointer; the measures beside it are its keyboard
        <path
          d={edgePath(panel, edge, other)}
          fill="none"
          stroke="transparent"
          strokeWidth={12 * scale}
          className="cursor-pointer"
          data-edge={`${panel.name} ${edge + 1}${other ? " other" : ""}`}
          onPointerEnter={() => onOver(side)}
          onPointerLeave={() => onOver(null)}
          onPointerDown={(e) => {
            if (e.button !== 0) return;
            e.stopPropagation();
            onPick();
          }}
          onDoubleClick={(e) => tool === "shape" && onSplit(e)}
        />
      )}
      {seam >= 0 && !fold && <Tag panel={panel} edge={edge} other={other} text={`${seam + 1}`} scale={scale} />}
    </g>
  );
}
