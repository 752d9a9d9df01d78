import type { Waiver } from "../../api/clearing";
import type { Production, Trial, TrialCell } from "../../api/client";
import type { Change } from "./CellTile";

const HOLDS = 0.1;
/** Cells must differ by this much (cm2) to be better or worse: the noise of sampling. */
const APART = 0.02;

export interface SheetCell {
  key: string;
  wearer: number;
  pose: string;
  name: string;
  cell: TrialCell | undefined;
  area: number;
  holds: boolean;
  /** Why what shows is left as it is, if it is. */
  left: string | null;
  change: Change;
  pinned: boolean;
  /** Where it shows most, to be grouped by. */
  place: string;
}

interface Asked {
  production: Production;
  trial: Trial | null;
  other: Trial | null;
  piece: string | null;
  waivers: Waiver[];
  pins: { wearer: number; pose: string }[];
}

/** The cells of the sheet as they count: what is waived left out, only one piece's pairs if asked, compared with another run. */
export function sheetCells({ production, trial, other, piece, waivers, pins }: Asked): SheetCell[] {
  const at = (run: Trial | null, wearer: number, pose: string) =>
    run?.cells.find((c) => c.wearer === wearer && c.pose === pose);
  return production.cast.flatMap((w) =>
    production.poses.map((p) => {
      const mine = waivers.filter((x) => x.wearer === w.id && x.pose === p.name);
      const counts = (cell: TrialCell | undefined) => {
        const pairs = (cell?.figures?.pairs ?? []).filter((x) => !piece || x.over === piece);
        const live = pairs.filter((x) => !mine.some((m) => m.over === x.over));
        const holes = piece ? 0 : (cell?.figures?.holes_cm2 ?? 0);
        return { pairs, live, area: live.reduce((sum, x) => sum + x.area_cm2, holes) };
      };
      const cell = at(trial, w.id, p.name);
      const { pairs, live, area } = counts(cell);
      const before = at(other, w.id, p.name);
      const was = counts(before).area;
      const change: Change =
        cell?.figures && before?.figures
          ? area < was - APART
            ? "better"
            : area > was + APART
              ? "worse"
              : "same"
          : null;
      const waived = pairs.filter((x) => !live.includes(x) && x.area_cm2 > HOLDS);
      const worst = live.flatMap((x) => x.places.map((q) => ({ q, x }))).sort((a, b) => b.q.area_cm2 - a.q.area_cm2)[0];
      return {
        key: `${w.id} ${p.name}`,
        wearer: w.id,
        pose: p.name,
        name: `${w.name}, ${p.label.toLowerCase()}`,
        cell,
        area,
        holds: area <= HOLDS,
        left: waived.length ? mine.map((m) => m.reason).join("; ") : null,
        change,
        pinned: pins.some((x) => x.wearer === w.id && x.pose === p.name),
        place: worst
          ? `${worst.x.over} at the ${worst.q.name}`
          : cell?.figures
            ? area > HOLDS
              ? "Holes"
              : "Holds"
            : "Not measured",
      };
    }),
  );
}
