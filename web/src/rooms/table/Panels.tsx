import clsx from "clsx";
import { useRef, useState } from "react";
import type { Corner, Laid, Layout, Panel, Side, Spot } from "../../api/table";
import { item } from "../../recipe/at";
import { InnerLines, Sketched } from "./InnerLines";
import { Grain, Handles, Name, Notch, Ruler, Tag } from "./PanelMarks";
import { boxOf, edgePath, MM, onFold, outlinePath, sameSide, shareAt } from "./panelPath";
import type { Chosen, Drag, Sketch, Tool } from "./useTable";

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
  const svg = useRef<SVGSVGElement>(null);
  const [view, setView] = useState<[number, number, number, number] | null>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  const [draft, setDraft] = useState<Panel | null>(null);
  const [over, setOver] = useState<Side | null>(null);
  const panels = laid.layout.panels.map((p) => (draft?.name === p.name ? draft : p));
  const box = view ?? boxOf(laid.layout.panels);
  const scale = Math.max(box[2] / (svg.current?.clientWidth || 620), box[3] / (svg.current?.clientHeight || 750)); // mm of a pixel

  const place = (e: { clientX: number; clientY: number }): Spot => {
    const matrix = svg.current?.getScreenCTM()?.inverse();
    if (!matrix) return [0, 0];
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(matrix);
    return [p.x, p.y];
  };
  const inPanel = (panel: Panel, [x, y]: Spot): Spot => [x / MM - panel.spot[0], -y / MM - panel.spot[1]];
  const round = (v: number) => Math.round(v * 1e4) / 1e4;
  const spotIn = (panel: Panel, e: React.PointerEvent): Spot => {
    const [across, up] = inPanel(panel, place(e));
    const [x, y] = [round(across), round(up)];
    return e.shiftKey ? [Math.round(x * 200) / 200, Math.round(y * 200) / 200] : [x, y];
  };

  const begin = (e: React.PointerEvent, what: Drag) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    svg.current?.setPointerCapture(e.pointerId);
    setDrag(what);
  };
  const move = (e: React.PointerEvent) => {
    if (!drag) return;
    if (drag.kind === "view") {
      const [x, y, w, h] = drag.view;
      setView([x - (e.clientX - drag.x) * scale, y - (e.clientY - drag.y) * scale, w, h]);
      return;
    }
    const panel = panels.find((p) => p.name === drag.panel);
    if (!panel) return;
    const here = place(e);
    if (drag.kind === "panel") {
      const by: Spot = [(here[0] - drag.from[0]) / MM, -(here[1] - drag.from[1]) / MM];
      setDraft({ ...panel, spot: [round(drag.spot[0] + by[0]), round(drag.spot[1] + by[1])] });
      return;
    }
    let [x, y] = spotIn(panel, e);
    if (panel.half === "fold") x = Math.max(0, x);
    if (drag.kind === "point") {
      const line = item(panel.lines, drag.line).map((p, i) => (i === drag.at ? ([x, y] as Spot) : p));
      setDraft({ ...panel, lines: panel.lines.map((l, i) => (i === drag.line ? line : l)) });
      return;
    }
    const was = item(panel.outline, drag.at);
    if (drag.kind === "corner" && panel.half === "fold" && Math.abs(was.at[0]) < 1e-6) x = 0; // it stays on the fold
    setDraft({ ...panel, outline: panel.outline.map((c, i) => moved(c, i, drag, [x, y], panel)) });
  };
  const finish = () => {
    if (draft && drag && drag.kind !== "view") {
      const layout = { ...laid.layout, panels: laid.layout.panels.map((p) => (p.name === draft.name ? draft : p)) };
      onChange(layout, drag.kind === "panel" ? `Move ${draft.name} on the table` : `Shape ${draft.name}`);
    }
    setDrag(null);
    setDraft(null);
  };
  const seamOf = (side: Side) =>
    laid.layout.seams.findIndex((s) => [s.one, s.two].some((q) => q.panel === side.panel && q.edge === side.edge));

  return (
    <svg
      ref={svg}
      viewBox={box.join(" ")}
      role="application"
      aria-label="The panels on the table"
      className="absolute inset-0 h-full w-full touch-none"
      onPointerDown={(e) => {
        onChoose(null);
        begin(e, { kind: "view", x: e.clientX, y: e.clientY, view: box });
      }}
      onPointerMove={move}
      onPointerUp={finish}
      onWheel={(e) => {
        const by = Math.exp(e.deltaY * 0.001);
        const [x, y] = place(e);
        setView([x - (x - box[0]) * by, y - (y - box[1]) * by, box[2] * by, box[3] * by]);
      }}
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
                  <g
                    // biome-ignore lint/suspicious/noArrayIndexKey: an edge is known by its place in the outline
                    key={`${edge}${other}`}
                  >
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
                        onPointerEnter={() => setOver(side)}
                        onPointerLeave={() => setOver(null)}
                        onPointerDown={(e) => {
                          if (e.button !== 0) return;
                          e.stopPropagation();
                          if (tool === "sew") onSide(side);
                          else onChoose({ panel: panel.name, edge, corner: null });
                        }}
                        onDoubleClick={(e) => {
                          if (tool !== "shape") return;
                          const [x, y] = inPanel(panel, place(e));
                          onSplit(panel.name, edge, shareAt(panel, edge, [other ? -x : x, y]));
                        }}
                      />
                    )}
                    {seam >= 0 && !fold && (
                      <Tag panel={panel} edge={edge} other={other} text={`${seam + 1}`} scale={scale} />
                    )}
                  </g>
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

function moved(c: Corner, i: number, drag: Drag, to: Spot, panel: Panel): Corner {
  if (drag.kind === "view" || drag.kind === "panel" || drag.kind === "point") return c;
  const last = (drag.at - 1 + panel.outline.length) % panel.outline.length;
  if (drag.kind === "corner") {
    const was = item(panel.outline, drag.at).at;
    const by: Spot = [to[0] - was[0], to[1] - was[1]];
    const shift = (p: readonly number[]): Spot => [item(p, 0) + by[0], item(p, 1) + by[1]];
    if (i === drag.at) return { at: to, bend: c.bend ? [shift(c.bend[0]), c.bend[1] as Spot] : c.bend };
    if (i === last && c.bend) return { ...c, bend: [c.bend[0] as Spot, shift(c.bend[1])] };
    return c;
  }
  if (i !== drag.at || !c.bend) return c;
  return { ...c, bend: drag.kind === "bend0" ? [to, c.bend[1] as Spot] : [c.bend[0] as Spot, to] };
}
