import clsx from "clsx";
import { useState } from "react";
import type { Laid, Layout, Side, Spot } from "../../../api/table";
import { TEXT } from "../texts";
import type { Chosen, Sketch, Tool } from "../useTable";
import { InnerLines, Sketched } from "./InnerLines";
import { PanelEdge } from "./PanelEdge";
import { Grain, Handles, Name, Notch, Ruler } from "./PanelMarks";
import { onFold, outlinePath, sameSide, shareAt } from "./panelPath";
import { usePanelDrag } from "./usePanelDrag";

interface Props {
  laid: Laid;
  tool: Tool;
  chosen: Chosen;
  /** The first edge of a seam that is being made. */
  first: Side | null;
  lit: number | null;
  sketch: Sketch;
  onSketch(panel: string, point: Spot): void;
  onSketched(): void;
  onChoose(chosen: Chosen): void;
  onSide(side: Side): void;
  onSplit(panel: string, edge: number, share: number): void;
  onChange(layout: Layout, label: string): void;
}

/** The table with its panels: corners and curves are dragged, edges chosen, panels moved about; the wheel comes near. */
export function Panels(props: Props) {
  const { laid, tool, chosen, first, lit, sketch, onSketch, onSketched, onChoose, onSide, onSplit, onChange } = props;
  const [over, setOver] = useState<Side | null>(null);
  const { svg, box, scale, panels, place, inPanel, spotIn, begin, move, finish, zoom } = usePanelDrag(laid, onChange);
  const seamOf = (side: Side) =>
    laid.layout.seams.findIndex((s) => [s.one, s.two].some((q) => q.panel === side.panel && q.edge === side.edge));

  return (
    <svg
      ref={svg}
      viewBox={box.join(" ")}
      role="application"
      aria-label={TEXT.thePanelsOnThe}
      className="absolute inset-0 h-full w-full touch-none"
      onPointerDown={(e) => {
        onChoose(null);
        begin(e, { kind: "view", x: e.clientX, y: e.clientY, view: box });
      }}
      onPointerMove={move}
      onPointerUp={finish}
      onWheel={zoom}
    >
      <defs>
        <pattern id="mat" width="100" height="100" patternUnits="userSpaceOnUse">
          <path d="M100 0H0V100" fill="none" stroke="var(--color-rule)" strokeWidth={0.8 * scale} />
        </pattern>
      </defs>
      <rect x={box[0] - 4000} y={box[1] - 4000} width={8000 + box[2]} height={8000 + box[3]} fill="url(#mat)" />
      {panels.map((panel) => {
        const mine = chosen?.panel === panel.name;
        return (
          <g key={panel.name}>
            {(panel.half === "fold" ? [false, true] : [false]).map((other) => (
              // biome-ignore lint/a11y/noStaticElementInteractions: a drawing is moved by pointer; the measures beside it are its keyboard
              <path
                key={`${other}`}
                d={outlinePath(panel, other)}
                className={clsx(
                  tool === "line" ? "cursor-crosshair" : "cursor-move",
                  mine ? "fill-heron/10" : "fill-card",
                )}
                fillOpacity={0.9}
                stroke="none"
                data-panel={panel.name}
                onDoubleClick={() => tool === "line" && onSketched()}
                onPointerDown={(e) => {
                  if (tool === "line" && e.button === 0) {
                    e.stopPropagation();
                    const [x, y] = spotIn(panel, e);
                    return onSketch(panel.name, [panel.half === "fold" ? Math.abs(x) : x, y]);
                  }
                  onChoose({ panel: panel.name, edge: null, corner: null });
                  begin(e, { kind: "panel", panel: panel.name, from: place(e), spot: panel.spot as Spot });
                }}
              />
            ))}
            <Grain panel={panel} scale={scale} />
            {panel.outline.map((_, edge) =>
              (panel.half === "fold" && !onFold(panel, edge) ? [false, true] : [false]).map((other) => {
                const side = { panel: panel.name, edge, other };
                const fold = onFold(panel, edge);
                const seam = seamOf(side);
                const hot =
                  (over && sameSide(over, side)) ||
                  (first && sameSide(first, side)) ||
                  (seam >= 0 && seam === lit) ||
                  (mine && chosen?.edge === edge && !other);
                const fast = laid.layout.fast.some((s) => s.panel === panel.name && s.edge === edge);
                return (
                  <PanelEdge
                    // biome-ignore lint/suspicious/noArrayIndexKey: an edge is known by its place in the outline
                    key={`${edge}${other}`}
                    panel={panel}
                    side={side}
                    look={{ fold, seam, hot, fast }}
                    tool={tool}
                    scale={scale}
                    onOver={setOver}
                    onPick={() => (tool === "sew" ? onSide(side) : onChoose({ panel: panel.name, edge, corner: null }))}
                    onSplit={(e) => {
                      const [x, y] = inPanel(panel, place(e));
                      onSplit(panel.name, edge, shareAt(panel, edge, [other ? -x : x, y]));
                    }}
                  />
                );
              }),
            )}
            {panel.notches.map(([edge, share]) => (
              <Notch key={`${edge}-${share}`} panel={panel} edge={edge} share={share} scale={scale} />
            ))}
            <Name panel={panel} scale={scale} />
            <InnerLines
              panel={panel}
              chosen={mine ? chosen.line : undefined}
              scale={scale}
              tool={tool}
              begin={begin}
              onChoose={onChoose}
            />
            {sketch?.panel === panel.name && <Sketched panel={panel} points={sketch.points} scale={scale} />}
            {tool === "shape" && mine && (
              <Handles panel={panel} corner={chosen.corner} scale={scale} begin={begin} onChoose={onChoose} />
            )}
          </g>
        );
      })}
      <Ruler box={box} scale={scale} height={(svg.current?.clientHeight || 750) * scale} />
    </svg>
  );
}
