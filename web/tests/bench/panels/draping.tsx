/** The drape panel of a bound coat, and what it asks of the fall. */
import { vi } from "vitest";
import type { DrapeNotes, Fabric } from "../../../src/api/drape";
import draping from "../../../src/bench/steps/drape";
import type { Falling } from "../../../src/bench/steps/drape/useFalling";
import { fresh, type StepOf } from "../../../src/recipe/recipe";
import { house } from "../../house";
import { settled, shown } from "../../shown";
import { aFitting, aPiece, aPose, aProduction, aWearer, type Changes, panelProps } from "../../world";

export const cloth = (name: string, to: Partial<Fabric> = {}): Fabric => ({
  name,
  weight: 0.18,
  warp: 9000,
  weft: 7000,
  shear: 120,
  bend_warp: 22e-6,
  bend_weft: 18e-6,
  thickness: 0.0004,
  damping: 2,
  friction: 0.4,
  ...to,
});
export const FABRICS = [cloth("linen"), cloth("wool felt", { weight: 0.4 }), cloth("oilskin", { weight: 0.35 })];
const MOTIONS = [
  { name: "row", label: "Rowing", seconds: 3.2 },
  { name: "stock-12", label: "From stock", seconds: 1 },
];
export const TOLD: DrapeNotes = {
  seq: 5,
  did: "next",
  frame: 11,
  have: 24,
  of: 72,
  ms: 61.4,
  vertices: 5000,
  strain_mean: 0.012,
  strain_99: 0.051,
  speed: 0.1,
  bending_met: 0.7,
  shear_met: 0.95,
  sunk: 0.0123,
  there: true,
};
export const BOUND = [fresh("receive"), fresh("fit"), fresh("bind")];
export const POSES = [aPose("rest", "Rest"), aPose("stand", "Standing"), aPose("kneel", "Kneeling")];

interface Set {
  piece?: Changes;
  others?: Changes[];
  told?: Partial<DrapeNotes> | null;
  falling?: Partial<Falling>;
  answers?: Record<string, unknown>;
}

export async function opened({ piece, others = [], told = null, falling: more, answers }: Set = {}) {
  const coat = aPiece({ rail: 1, steps: BOUND, ...piece });
  const pieces = [coat, ...others.map((o) => aPiece({ steps: BOUND, ...o }))];
  const cast = [
    aWearer(1, "Ibbet", { shape: { belly: 0.1 } }),
    aWearer(2, "Corvane", { shape: { belly: 0.6 } }),
    aWearer(3, "Stilt walker", { body: "xx" }),
  ];
  const production = aProduction({ pieces, cast, poses: POSES });
  const fitting = aFitting(production, {
    chosen: POSES[1],
    pose: POSES[1],
    asked: { shape: { belly: 0.1 }, pose: "stand", body: null },
  });
  const falling = {
    told: told && { ...TOLD, ...told },
    playing: false,
    replaying: false,
    fromKept: false,
    ready: true,
    play: vi.fn(),
    stop: vi.fn(),
    show: vi.fn(),
    keep: vi.fn(),
    keepAll: vi.fn(),
    leave: vi.fn(),
    see: vi.fn(async () => undefined),
    replay: vi.fn(),
    goOn: vi.fn(),
    file: vi.fn(),
    ...more,
  };
  const server = house({
    "GET /api/fabrics": FABRICS,
    "GET /api/fabrics/own": [],
    "GET /api/motions": MOTIONS,
    "GET /api/pieces/7/falls": [],
    "GET /api/pieces/7/bake": null,
    ...answers,
  });
  const { props } = panelProps(coat, { production, fitting, falling: falling as unknown as Falling });
  const page = await shown(<draping.Panel {...props} />);
  await settled();
  const played = () => vi.mocked(falling.play).mock.lastCall?.[0] as StepOf<"drape">;
  return { page, server, falling, played };
}
