import { useRef, useState } from "react";
import {
  type Laid,
  type Layout,
  type Panel,
  type Side,
  type Spot,
  useLayout,
  useLayoutChanges,
  useLayouts,
} from "../../api/table";
import { useRoom } from "../../store/room";
import { boxOf, MM, runsBack, sameSide } from "./panels/panelPath";
import { TEXT } from "./texts";

export type Tool = "shape" | "sew" | "line";
/** A panel, and at most one of its edges, corners and inner lines. */
export type Chosen = { panel: string; edge: number | null; corner: number | null; line?: number } | null;
/** An inner line that is being drawn. */
export type Sketch = { panel: string; points: Spot[] } | null;

/** What the pointer drags: the view, a corner or an end of a curve, a whole panel. */
export type Drag =
  | { kind: "view"; x: number; y: number; view: [number, number, number, number] }
  | { kind: "corner" | "bend0" | "bend1"; panel: string; at: number }
  | { kind: "point"; panel: string; line: number; at: number }
  | { kind: "panel"; panel: string; from: Spot; spot: Spot };

/** What the cutting table works on: the layout that is open, the tool, what is chosen, and its changes. */
export function useTable() {
  const shelf = useLayouts();
  const [asked, setAsked] = useState<number | null>(null);
  const number = shelf.data?.some((l) => l.id === asked) ? asked : (shelf.data?.at(-1)?.id ?? null);
  const open = useLayout(number);
  const laid: Laid | undefined = number === null ? undefined : open.data;
  const { begin, change, work, grade, step, drop, read } = useLayoutChanges();
  const [tool, setTool] = useState<Tool>("shape");
  const [chosen, setChosen] = useState<Chosen>(null);
  const [first, setFirst] = useState<Side | null>(null);
  const [lit, setLit] = useState<number | null>(null);
  const [sketch, setSketch] = useState<Sketch>(null);
  const say = useRoom((s) => s.say);
  const held = useRef(number);
  if (held.current !== number) {
    held.current = number; // another layout has other panels
    setChosen(null);
    setFirst(null);
    setSketch(null);
  }

  const keep = (layout: Layout, label: string) => laid && change.mutate({ laid, layout, label });
  /** A square of cloth more, to the right of the others. */
  const addPanel = () => {
    if (!laid) return;
    const { panels } = laid.layout;
    let n = panels.length + 1;
    while (panels.some((p) => p.name === `panel ${n}`)) n++;
    const [x, , wide] = boxOf(panels);
    const corners: Spot[] = [
      [0, 0.9],
      [0.3, 0.9],
      [0.3, 1.3],
      [0, 1.3],
    ];
    const made: Panel = {
      name: TEXT.panel(n),
      outline: corners.map((at) => ({ at, bend: null })),
      half: "single",
      laid: { part: "torso", face: "front", raised: 0, aside: 0 },
      grain: 0,
      notches: [],
      lines: [],
      spot: [panels.length ? (x + wide) / MM : 0, -1.3],
    };
    keep({ ...laid.layout, panels: [...panels, made] }, TEXT.aPanelMore(made.name));
    setChosen({ panel: made.name, edge: null, corner: null });
  };
  /** A panel off the table, with its seams. */
  const dropPanel = (name: string) => {
    if (!laid) return;
    const { panels, seams, fast } = laid.layout;
    keep(
      {
        ...laid.layout,
        panels: panels.filter((p) => p.name !== name),
        seams: seams.filter((s) => s.one.panel !== name && s.two.panel !== name),
        fast: fast.filter((s) => s.panel !== name),
      },
      TEXT.takeAway(name),
    );
    setChosen(null);
  };
  /** The inner line that is being drawn gets a point more, or begins on that panel. */
  const sketchTo = (panel: string, point: Spot) => {
    setChosen({ panel, edge: null, corner: null });
    const points = sketch?.panel === panel ? sketch.points : [];
    const last = points.at(-1);
    if (last && Math.hypot(last[0] - point[0], last[1] - point[1]) < 0.002) return;
    setSketch({ panel, points: [...points, point] });
  };
  /** What was drawn becomes an inner line of its panel. */
  const endSketch = () => {
    const panel = laid?.layout.panels.find((p) => p.name === sketch?.panel);
    setSketch(null);
    if (!laid || !panel || !sketch || sketch.points.length < 2) return;
    const made = { ...panel, lines: [...panel.lines, sketch.points] };
    keep({ ...laid.layout, panels: laid.layout.panels.map((p) => (p === panel ? made : p)) }, TEXT.aLineIn(panel.name));
    setChosen({ panel: panel.name, edge: null, corner: null, line: panel.lines.length });
  };
  const dropLine = (name: string, line: number) => {
    if (!laid) return;
    const off = (p: Panel) => (p.name === name ? { ...p, lines: p.lines.filter((_, i) => i !== line) } : p);
    keep({ ...laid.layout, panels: laid.layout.panels.map(off) }, TEXT.aLineOfTaken(name));
    setChosen({ panel: name, edge: null, corner: null });
  };
  const sew = (side: Side) => {
    if (!laid) return;
    if (!first) return setFirst(side);
    setFirst(null);
    if (sameSide(first, side)) return;
    const panel = (s: Side) => laid.layout.panels.find((p) => p.name === s.panel);
    const [one, two] = [panel(first), panel(side)];
    if (!one || !two) return;
    if (laid.layout.seams.some((s) => sameSide(s.one, first) && sameSide(s.two, side)))
      return say({ kind: "problem", text: TEXT.thoseTwoEdgesAre });
    const turned = runsBack(one, first, two, side);
    keep(
      { ...laid.layout, seams: [...laid.layout.seams, { one: first, two: side, turned }] },
      TEXT.sewTo(first.panel, side.panel),
    );
  };
  return {
    shelf: shelf.data ?? [],
    waiting: shelf.isPending,
    laid,
    number,
    open: setAsked,
    tool,
    setTool: (next: Tool) => {
      setTool(next);
      setFirst(null);
      setSketch(null);
    },
    sketch,
    setSketch,
    sketchTo,
    endSketch,
    dropLine,
    chosen,
    setChosen,
    first,
    setFirst,
    lit,
    setLit,
    keep,
    addPanel,
    dropPanel,
    sew,
    begin,
    work,
    grade,
    step,
    drop,
    read,
  };
}

export type Table = ReturnType<typeof useTable>;
