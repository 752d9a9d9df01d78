import clsx from "clsx";
import type { Panel, Spot } from "../../../api/table";
import type { Chosen, Drag, Tool } from "../useTable";
import { onTable } from "./panelPath";

interface Props {
  panel: Panel;
  /** Which of its lines is chosen. */
  chosen: number | undefined;
  scale: number;
  tool: Tool;
  begin(e: React.PointerEvent, what: Drag): void;
  onChoose(chosen: Chosen): void;
}

const path = (panel: Panel, points: Spot[], other = false) =>
  `M${points.map((p) => onTable(panel, p, other).join()).join("L")}`;

/** The lines drawn inside a panel, mirrored on a fold; the points of the chosen one can be dragged. */
export function InnerLines({ panel, chosen, scale, tool, begin, onChoose }: Props) {
  return (
    <>
      {panel.lines.map((line, i) => {
        const points = line as Spot[];
        const hot = chosen === i;
        return (
          <g
            // biome-ignore lint/suspicious/noArrayIndexKey: a line is known by its number
            key={i}
          >
            {(panel.half === "fold" ? [false, true] : [false]).map((other) => (
              <g key={`${other}`} fill="none">
                <path
                  d={path(panel, points, other)}
                  className={hot ? "stroke-heron" : "stroke-soft"}
                  strokeWidth={(hot ? 2.2 : 1.2) * scale}
                />
                {tool === "shape" && (
                  <path
                    d={path(panel, points, other)}
                    stroke="transparent"
                    strokeWidth={10 * scale}
                    className="cursor-pointer"
                    data-line={`${panel.name} ${i + 1}${other ? " other" : ""}`}
                    onPointerDown={(e) => {
                      if (e.button !== 0) return;
                      e.stopPropagation();
                      onChoose({ panel: panel.name, edge: null, corner: null, line: i });
                    }}
                  />
                )}
              </g>
            ))}
            {tool === "shape" && hot && (
              <Dots
                panel={panel}
                points={points}
                scale={scale}
                onDown={(e, at) => begin(e, { kind: "point", panel: panel.name, line: i, at })}
              />
            )}
          </g>
        );
      })}
    </>
  );
}

/** A line as far as it is drawn. */
export function Sketched({ panel, points, scale }: { panel: Panel; points: Spot[]; scale: number }) {
  return (
    <g className="pointer-events-none">
      <path d={path(panel, points)} fill="none" className="stroke-heron" strokeWidth={2.2 * scale} />
      <Dots panel={panel} points={points} scale={scale} />
    </g>
  );
}

interface DotsProps {
  panel: Panel;
  points: Spot[];
  scale: number;
  onDown?(e: React.PointerEvent, at: number): void;
}

function Dots({ panel, points, scale, onDown }: DotsProps) {
  return points.map((p, at) => {
    const [cx, cy] = onTable(panel, p);
    return (
      <circle
        // biome-ignore lint/suspicious/noArrayIndexKey: a point is known by its place on the line
        key={at}
        cx={cx}
        cy={cy}
        r={4.5 * scale}
        className={clsx("fill-card stroke-heron", onDown && "cursor-pointer")}
        strokeWidth={1.5 * scale}
        onPointerDown={(e) => onDown?.(e, at)}
      />
    );
  });
}
