import type { Waiver } from "../api/clearing";
import type { Pose, Production, Rotations, Trial, TrialCell } from "../api/client";
import { pairNamed } from "./pairs";

export type Change = "better" | "worse" | "same" | null;

export const MOTION = "motion:";

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
  /** Something shows, and only what the shots see counts, and they do not see it. */
  unseen: boolean;
  change: Change;
  pinned: boolean;
  /** Where it shows most, to be grouped by. */
  place: string;
  /** What it comes from, to be grouped by. */
  cause: string;
  /** The frame of a motion that it stands for, if it does. */
  rotations: Rotations | null;
}

export interface Column {
  name: string;
  label: string;
}

/** What the sheet is measured in: the poses of the axis, then the motions. */
export function columnsOf(production: Production): Column[] {
  const motions = production.motions.map((m) => ({ name: MOTION + m.name, label: `${m.label}, worst` }));
  return [...production.poses, ...motions];
}

interface Asked {
  production: Production;
  trial: Trial | null;
  other: Trial | null;
  piece: string | null;
  /** Only what the shots see counts. */
  byShots: boolean;
  waivers: Waiver[];
  pins: { wearer: number; pose: string }[];
}

/** The pose a cell was measured in: the axis's, or the worst frame of its motion. */
export function stanceOf(production: Production, cell: TrialCell): Pose | undefined {
  const { figures, pose } = cell;
  if (!figures?.rotations) return production.poses.find((p) => p.name === pose);
  const motion = production.motions.find((m) => MOTION + m.name === pose);
  const label = `${motion?.label ?? "Motion"}, frame ${figures.frame}`;
  return { name: `${pose}-${figures.frame}`, label, family: "own", rotations: figures.rotations };
}

/** The cells of the sheet as they count: what is waived left out, only one piece's pairs if asked, compared with another run. */
export function sheetCells({ production, trial, other, piece, byShots, waivers, pins }: Asked): SheetCell[] {
  const most = production.settings.holds_cm2;
  const index = (run: Trial | null) => new Map(run?.cells.map((c) => [`${c.wearer} ${c.pose}`, c]));
  const now = index(trial);
  const then = index(other);
  const columns = columnsOf(production);
  return production.cast.flatMap((w) =>
    columns.map((p) => {
      const key = `${w.id} ${p.name}`;
      const mine = waivers.filter((x) => x.wearer === w.id && x.pose === p.name);
      const counts = (cell: TrialCell | undefined) => {
        const pairs = (cell?.figures?.pairs ?? []).filter((x) => !piece || x.over === piece);
        const live = pairs.filter((x) => !mine.some((m) => m.over === x.over && (!m.by_shots || unseen(x, most))));
        const holes = piece || byShots ? 0 : (cell?.figures?.holes_cm2 ?? 0);
        const counted = (x: (typeof pairs)[number]) => (byShots ? (x.in_shots_cm2 ?? x.area_cm2) : x.area_cm2);
        // what shows through two layers at once counts once: the cell's own figure is the most it can be
        const figures = cell?.figures;
        const shown = (byShots ? figures?.in_shots_cm2 : null) ?? figures?.area_cm2 ?? 0;
        return {
          pairs,
          live,
          area:
            Math.min(
              shown,
              live.reduce((sum, x) => sum + counted(x), 0),
            ) + holes,
        };
      };
      const cell = now.get(key);
      const { pairs, live, area } = counts(cell);
      const before = then.get(key);
      const was = counts(before).area;
      const measured = !!cell?.figures;
      const change: Change =
        measured && before?.figures ? (area < was - APART ? "better" : area > was + APART ? "worse" : "same") : null;
      const waived = pairs.filter((x) => !live.includes(x) && x.area_cm2 > most);
      const worst = live.flatMap((x) => x.places.map((q) => ({ q, x }))).sort((a, b) => b.q.area_cm2 - a.q.area_cm2)[0];
      const holds = area <= most;
      const cause = cell?.causes?.filter((c) => !piece || c.over === piece)[0];
      const otherwise = !measured ? "Not measured" : holds ? "Holds" : null;
      return {
        key,
        wearer: w.id,
        pose: p.name,
        name: `${w.name}, ${p.label.toLowerCase()}`,
        cell,
        area,
        holds,
        left: waived.length ? mine.map((m) => m.reason).join("; ") : null,
        unseen: holds && byShots && live.reduce((sum, x) => sum + x.area_cm2, 0) > most,
        change,
        pinned: pins.some((x) => x.wearer === w.id && x.pose === p.name),
        place: worst ? pairNamed({ ...worst.x, places: [worst.q] }) : (otherwise ?? "Holes"),
        cause:
          otherwise ??
          (cause ? (CAUSES[cause.kind] ?? cause.kind) : cell?.causes ? "No single cause" : "Not explained yet"),
        rotations: (cell?.figures?.rotations as Rotations | null | undefined) ?? null,
      };
    }),
  );
}

/** Whether no shot sees what shows between a pair. */
const unseen = (pair: { in_shots_cm2?: number | null }, most: number) =>
  pair.in_shots_cm2 != null && pair.in_shots_cm2 <= most;

/** Causes as headings. */
const CAUSES: Record<string, string> = {
  pose: "The pose",
  shape: "The wearer's shape",
  "rest fit": "The fit itself",
  "made for": "The body it was made for",
  order: "The order on the rail",
  "under-layer": "What is worn under it",
  weights: "The weights",
  coarse: "Faces too large to bend",
};
