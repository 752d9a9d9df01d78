import type { Corner, Panel, Side, Spot } from "../../../api/table";
import { item } from "../../../recipe/at";

/** The table is drawn in millimetres, y down. */
export const MM = 1000;

export function onFold(panel: Panel, edge: number): boolean {
  const a = item(panel.outline, edge);
  const b = item(panel.outline, (edge + 1) % panel.outline.length);
  return panel.half === "fold" && !a.bend && Math.abs(a.at[0]) < 1e-6 && Math.abs(b.at[0]) < 1e-6;
}

/** Where a place of a panel lies on the drawn table; its mirrored half on the other side of the fold. */
export function onTable(panel: Panel, [x, y]: Spot, other = false): Spot {
  return [MM * (panel.spot[0] + (other ? -x : x)), -MM * (panel.spot[1] + y)];
}

/** The path of one edge. */
export function edgePath(panel: Panel, edge: number, other = false): string {
  const a = item(panel.outline, edge);
  const b = item(panel.outline, (edge + 1) % panel.outline.length);
  const at = (p: Spot) => onTable(panel, p, other).join();
  return a.bend ? `M${at(a.at)}C${at(a.bend[0])} ${at(a.bend[1])} ${at(b.at)}` : `M${at(a.at)}L${at(b.at)}`;
}

/** The path of the drawn outline. */
export function outlinePath(panel: Panel, other = false): string {
  const steps = panel.outline.map((_, e) => edgePath(panel, e, other).replace(/^M[^CL]*/, e ? "" : "$&"));
  return `${steps.join("")}Z`;
}

/** The place on an edge at the parameter `t` of its line, by de Casteljau. */
export function along(panel: Panel, edge: number, t: number): Spot {
  const a: Corner = item(panel.outline, edge);
  const b = item(panel.outline, (edge + 1) % panel.outline.length);
  let p: Spot[] = a.bend ? [a.at, a.bend[0], a.bend[1], b.at] : [a.at, b.at];
  while (p.length > 1)
    p = p
      .slice(1)
      .map((q, i) => [item(p, i)[0] + t * (q[0] - item(p, i)[0]), item(p, i)[1] + t * (q[1] - item(p, i)[1])]);
  return item(p, 0);
}

/** The share of an edge's length at the place nearest to a point. */
export function shareAt(panel: Panel, edge: number, to: Spot): number {
  const steps = 100;
  let gone = 0;
  let best = { gap: Number.POSITIVE_INFINITY, gone: 0 };
  let last = along(panel, edge, 0);
  for (let k = 0; k <= steps; k++) {
    const here = along(panel, edge, k / steps);
    gone += Math.hypot(here[0] - last[0], here[1] - last[1]);
    const gap = Math.hypot(here[0] - to[0], here[1] - to[1]);
    if (gap < best.gap) best = { gap, gone };
    last = here;
  }
  return Math.min(0.97, Math.max(0.03, best.gone / gone));
}

export function lengthOf(points: Spot[]): number {
  return points
    .slice(1)
    .reduce((gone, [x, y], i) => gone + Math.hypot(x - item(points, i)[0], y - item(points, i)[1]), 0);
}

/** The box (mm) all panels lie in: x, y, width, height. */
export function boxOf(panels: Panel[]): [number, number, number, number] {
  const places = panels.flatMap((p) =>
    p.outline.flatMap((c) =>
      [c.at, ...(c.bend ?? [])].flatMap((q) => [onTable(p, q), ...(p.half === "fold" ? [onTable(p, q, true)] : [])]),
    ),
  );
  if (!places.length) return [-500, -500, 1000, 1000];
  const xs = places.map((p) => p[0]);
  const ys = places.map((p) => p[1]);
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return [x - 60, y - 60, Math.max(...xs) - x + 120, Math.max(...ys) - y + 120];
}

/** Whether two edges run opposite ways as they are worn, so that the start of one meets the end of the other. */
export function runsBack(one: Panel, a: Side, two: Panel, b: Side): boolean {
  const way = (panel: Panel, side: Side): Spot => {
    const start = item(panel.outline, side.edge).at;
    const stop = item(panel.outline, (side.edge + 1) % panel.outline.length).at;
    return [(stop[0] - start[0]) * (side.other ? -1 : 1), stop[1] - start[1]];
  };
  const [p, q] = [way(one, a), way(two, b)];
  if (Math.abs(p[1]) + Math.abs(q[1]) > 0.3 * (Math.abs(p[0]) + Math.abs(q[0]))) return p[1] * q[1] < 0;
  return p[0] * q[0] < 0;
}

export const sameSide = (a: Side, b: Side) => a.panel === b.panel && a.edge === b.edge && a.other === b.other;
