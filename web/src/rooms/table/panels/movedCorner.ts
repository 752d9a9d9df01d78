import type { Corner, Panel, Spot } from "../../../api/table";
import { item } from "../../../recipe/at";
import type { Drag } from "../useTable";

/** A corner of an outline while one of it is dragged to a spot: curves that meet there go along, an end of a curve goes alone. */
export function moved(c: Corner, i: number, drag: Drag, to: Spot, panel: Panel): Corner {
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
