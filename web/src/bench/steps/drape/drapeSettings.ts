import type { CellAsked, Production } from "../../../api/client";
import type { DrapeStep, Fabric } from "../../../api/drape";
import { item } from "../../../recipe/at";
import type { StepOf } from "../../../recipe/recipe";
import type { Holding } from "./HoldCloth";
import { TEXT } from "./texts";

/** Where the wind comes from, and the way it blows. */
export const FROM: [string, [number, number, number]][] = [
  [TEXT.theFront, [0, 0, -1]],
  ["behind", [0, 0, 1]],
  [TEXT.theLeft, [-1, 0, 0]],
  [TEXT.theRight, [1, 0, 0]],
  ["below", [0, 1, 0]],
];

/** How the piece is to fall, as its panel says it: lengths in cm, `cut` the wearer it is cut to (0: this one), `from` a row of `FROM`. */
export interface DrapeSettings {
  held: number;
  holding: Holding;
  pressure: number;
  cut: number;
  wind: number;
  from: number;
  gust: number;
  substeps: number;
  finer: boolean;
  past: boolean;
}

/** As the piece last fell, or as is usual. */
export function settingsOf(last: StepOf<"drape"> | undefined): DrapeSettings {
  return {
    held: (last?.held ?? 0.04) * 100,
    holding: {
      tacks: last?.tacks ?? [],
      gathers: last?.gathers ?? [],
      straps: last?.straps ?? [],
      stiff: last?.stiff ?? [],
    },
    pressure: last?.pressure ?? 0,
    cut: 0,
    wind: 0,
    from: 0,
    gust: 0.3,
    substeps: last?.substeps ?? 20,
    finer: last?.finer ?? true,
    past: last?.past_hidden ?? false,
  };
}

/** What a fall needs besides its settings: the cell on the stage, the shape the piece was made on, and what it falls along with and on. */
export interface Fall {
  /** "pose", "rest", or the name of a motion. */
  where: string;
  motion: string;
  cell: Omit<CellAsked, "body">;
  madeOn: Record<string, number>;
  along: DrapeStep["along"];
  over: string[];
}

/** The step that lets the piece fall so. */
export function drapeStep(fabric: Fabric, settings: DrapeSettings, fall: Fall, production: Production): DrapeStep {
  const { where, motion, cell } = fall;
  const { wind } = settings;
  return {
    kind: "drape",
    cell: where === "rest" ? { shape: fall.madeOn, pose: "rest" } : motion ? { ...cell, pose: "rest" } : cell,
    motion,
    fabric,
    settle: 24,
    move: 24,
    hang: 24,
    substeps: settings.substeps,
    finer: settings.finer,
    held: settings.held / 100,
    ...settings.holding,
    pressure: settings.pressure,
    start: production.cast.find((w) => w.id === settings.cut)?.shape ?? null,
    along: fall.along,
    pulls: [],
    wind: item(FROM, settings.from)[1].map((x) => x * wind) as [number, number, number],
    gust: wind ? settings.gust : 0,
    past_hidden: settings.past,
    over: fall.over,
    keep: where === "rest" ? "rest" : "pose",
  };
}
