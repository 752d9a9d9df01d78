import { useRef, useState } from "react";
import type { Laid, Layout, Panel, Spot } from "../../../api/table";
import { item } from "../../../recipe/at";
import { TEXT } from "../texts";
import type { Drag } from "../useTable";
import { moved } from "./movedCorner";
import { boxOf, MM } from "./panelPath";

/** The part of the table in view, and what the pointer drags on it: the view, a panel, a corner, a curve; a change is kept when it is let go. */
export function usePanelDrag(laid: Laid, onChange: (layout: Layout, label: string) => void) {
  const svg = useRef<SVGSVGElement>(null);
  const [view, setView] = useState<[number, number, number, number] | null>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  const [draft, setDraft] = useState<Panel | null>(null);
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
      onChange(layout, drag.kind === "panel" ? TEXT.moveOnTheTable(draft.name) : TEXT.shape(draft.name));
    }
    setDrag(null);
    setDraft(null);
  };
  const zoom = (e: React.WheelEvent) => {
    const by = Math.exp(e.deltaY * 0.001);
    const [x, y] = place(e);
    setView([x - (x - box[0]) * by, y - (y - box[1]) * by, box[2] * by, box[3] * by]);
  };
  return { svg, box, scale, panels, place, inPanel, spotIn, begin, move, finish, zoom };
}
