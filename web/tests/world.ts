/** A small production of the Reedmarsh Night Post, whole as the server sends it; a test says only what it is about. */
import type { Figures, Piece, Pose, Production, Step, Trial, TrialCell, Wearer } from "../src/api/client";
import type { components } from "../src/api/schema";
import type { StepProps } from "../src/bench/step";
import type { Falling } from "../src/bench/steps/drape/useFalling";
import type { Fitting } from "../src/bench/useFitting";
import { fresh } from "../src/recipe/recipe";
import type { PieceMesh } from "../src/stage/mesh/piece";
import { useRoom } from "../src/store/room";

type Schema = components["schemas"];
type Reports = Schema["Reports"];

const RECEIVED: Schema["ReceiveReport"] = {
  unit: "cm",
  unit_word: "centimetres",
  unit_why: "112 tall",
  up: "y",
  up_why: "tallest along Y",
  size: [0.62, 1.124, 0.38],
  vertices: 4210,
  triangles: 8104,
  polygons: 4052,
  parts: 7,
  largest_part: 4100,
  materials: ["oilskin", "horn"],
  open_edges: 212,
  non_manifold_edges: 0,
  has_uv: true,
  findings: [],
  category: "top",
  category_sure: 0.91,
  category_why: "it covers chest and upper arms",
  symmetric: 0.99,
  beside_wearer: 0.66,
  hand: "right",
  facing: "front",
  stance_why: "two sleeves",
  textures: [],
  missing_textures: [],
  joints: 0,
  morphs: [],
  clips: [],
};
export const received = (to: Partial<Schema["ReceiveReport"]> = {}): Schema["ReceiveReport"] => ({
  ...RECEIVED,
  ...to,
});

const NOTHING: Reports = {
  receive: null,
  place: null,
  fit: null,
  work: [],
  bind: null,
  weigh: [],
  follow: null,
  clear: [],
  fix: [],
  hide: null,
  leave_out: null,
  drape: [],
  finish: null,
};

export type Changes = Partial<Omit<Piece, "report" | "recipe">> & {
  steps?: Step[];
  report?: Partial<Reports>;
  recipe?: Partial<Piece["recipe"]>;
};

/** A piece that is done, with these steps and reports. */
export function aPiece({ steps = [fresh("receive")], report, recipe, ...to }: Changes = {}): Piece {
  return {
    id: 7,
    outfit: 1,
    name: "Oilskin coat",
    category: "top",
    rail: 0,
    file_name: "oilskin-coat.glb",
    stock: null,
    origin: null,
    origin_outfit: null,
    origin_changed: null,
    dressing: false,
    colourway: null,
    edit: 31,
    recipe: { body: "", made_on: {}, steps, finish: null, ...recipe },
    label: "Fit to 9 mm",
    author: "Wren",
    made_at: "2026-11-30T09:00:00Z",
    status: "done",
    report: { ...NOTHING, receive: received(), ...report },
    error: null,
    geometry: "aa01",
    finished: null,
    before: null,
    thumb: null,
    undo_label: null,
    redo_label: null,
    ...to,
  };
}

export const aWearer = (id: number, name: string, to: Partial<Wearer> = {}): Wearer => ({
  id,
  name,
  shape: {},
  body: null,
  outfit: 1,
  can_undo: false,
  can_redo: false,
  ...to,
});
export const aPose = (name: string, label: string, to: Partial<Pose> = {}): Pose => ({
  name,
  label,
  family: "house",
  rotations: {},
  ...to,
});
const shape = (name: string, group: string, more: string, less: string, sided = false) => ({
  name,
  label: name,
  group,
  more,
  less,
  sided,
  least: -1,
});

export function aProduction(to: Partial<Production> = {}): Production {
  return {
    id: 4,
    name: "The Reedmarsh Night Post",
    shapes: [
      shape("stature", "Build", "taller", "shorter"),
      shape("belly", "Build", "rounder", "flatter"),
      shape("bust", "Torso", "fuller", "flatter"),
    ],
    cast: [aWearer(1, "Ibbet"), aWearer(2, "Corvane", { shape: { belly: 0.6 } }), aWearer(3, "Sella")],
    bodies: [],
    poses: [aPose("stand", "Standing"), aPose("row-catch", "Rowing, catch"), aPose("kneel", "Kneeling")],
    motions: [],
    shots: [],
    outfits: [{ id: 1, name: "First outfit", pieces: 2, worn_by: [1, 2, 3], owners: [1, 2, 3] }],
    settings: { ease: {}, holds_cm2: 0.1, lengths: "cm", measure_again: true },
    pieces: [aPiece(), aPiece({ id: 5, name: "Smock", rail: 1, geometry: "bb02" })],
    ...to,
  };
}

export const pair = (over: string, under: string, clearance_mm: number, to: Partial<Schema["PairFigures"]> = {}) => ({
  over,
  under,
  clearance_mm,
  area_cm2: Math.max(0, -clearance_mm),
  pinched_cm2: 0,
  at: null,
  in_shots_cm2: null,
  places: [],
  ...to,
});

/** A place where something shows, deep in mm. */
export const aPlace = (
  name: string,
  depth_mm: number,
  area_cm2 = 0.5,
  to: Partial<Schema["ShownPlace"]> = {},
): Schema["ShownPlace"] => ({
  name,
  depth_mm,
  area_cm2,
  centre: [0.1, 0.2, depth_mm / 100],
  seen_along: [0, 0, 1],
  in_shots_cm2: null,
  shots: [],
  ...to,
});

/** A plan that is ready to be carried out, without lines or cells. */
export const aPlan = (to: Partial<Schema["PlanOut"]> = {}): Schema["PlanOut"] => ({
  id: 8,
  cell: null,
  state: "ready",
  done: 9,
  total: 9,
  lines: [],
  cells: [],
  why: "",
  ...to,
});
/** What a plan does to a piece: what shows before and after, and how far it moves (mm). */
export const planLine = (
  piece: number,
  piece_name: string,
  words: string,
  before_cm2: number,
  after_cm2: number,
  greatest_move_mm: number,
) => ({ piece, piece_name, words, cells: 1, before_cm2, after_cm2, greatest_move_mm });
/** A wearer's cell in a plan, and what shows in it before and after. */
export const planned = (wearer: number, pose: string, before_cm2: number, after_cm2: number, why = "") => ({
  wearer,
  pose,
  before_cm2,
  after_cm2,
  clearance_mm: 1,
  why,
});

/** The figures of a cell with these pairs. */
export function figures(pairs: Schema["PairFigures"][], to: Partial<Figures> = {}): Figures {
  return {
    clearance_mm: Math.min(...pairs.map((p) => p.clearance_mm)),
    area_cm2: pairs.reduce((sum, p) => sum + p.area_cm2, 0),
    places: pairs.filter((p) => p.area_cm2 > 0).length,
    pairs,
    holds: pairs.every((p) => p.area_cm2 === 0),
    holes_cm2: 0,
    holes: [],
    in_shots_cm2: null,
    shots: [],
    frame: null,
    of_frames: null,
    seconds: null,
    rotations: null,
    ...to,
  };
}

export const aCell = (wearer: number, pose: string, found: Figures | null, to: Partial<TrialCell> = {}): TrialCell => ({
  wearer,
  pose,
  figures: found,
  stale: false,
  picture: null,
  error: null,
  causes: null,
  ...to,
});

export const aTrial = (cells: TrialCell[], to: Partial<Trial> = {}): Trial => ({
  id: 4,
  state: "done",
  total: cells.length,
  done: cells.filter((c) => c.figures).length,
  seconds: 12,
  started_at: "2026-11-30T09:00:00Z",
  automatic: false,
  whole: true,
  of_outfit: null,
  stale: false,
  cells,
  ...to,
});

/** What stands on the stage: the first wearer in the first pose, and these pieces. */
export function aFitting(production: Production, to: Partial<Fitting> = {}): Fitting {
  return {
    own: null,
    rail: production.pieces,
    asked: { shape: {}, pose: "stand" },
    wearer: production.cast[0],
    piece: production.pieces[0],
    shape: production.cast[0]?.shape ?? {},
    pose: production.poses[0],
    chosen: production.poses[0],
    bound: true,
    figure: { data: undefined } as Fitting["figure"],
    worn: [],
    cell: { isFetching: false, error: null } as Fitting["cell"],
    measured: undefined,
    names: new Map(production.pieces.map((p) => [p.id, p.name])),
    loading: false,
    ...to,
  };
}

/** The props of a step's panel, and what it keeps. */
export function panelProps(piece: Piece, to: Partial<StepProps> = {}) {
  const kept: { step: Step; label: string }[] = [];
  const recipes: { recipe: Piece["recipe"]; label: string }[] = [];
  const production = to.production ?? aProduction({ pieces: [piece] });
  const props: StepProps = {
    production,
    piece,
    mesh: undefined,
    under: [],
    fitting: aFitting(production),
    falling: {} as Falling,
    busy: false,
    onKeep: (step, label) => kept.push({ step, label }),
    onRecipe: (recipe, label) => recipes.push({ recipe, label }),
    ...to,
  };
  return { props, kept, recipes };
}

/** A mesh on the stage, with as many points as it has rows. */
export const aMesh = (received?: number[], points = 4): PieceMesh =>
  ({ received, source: { points: new Float32Array(3 * points) } }) as unknown as PieceMesh;

/** The room as it is when the page opens, with these changes. */
export function room(to: Partial<ReturnType<typeof useRoom.getState>> = {}): void {
  useRoom.setState({ ...useRoom.getInitialState(), ...to }, true);
}

/** The room as it is now. */
export const roomNow = () => useRoom.getState();
/** What the page says to the artist. */
export const said = () => useRoom.getState().saying;

/** A failing cell that Wren left as it is. */
export const aWaiver = (id: number) => ({
  id,
  wearer: 1,
  pose: "kneel",
  over: "Oilskin coat",
  reason: "under the desk",
  by_shots: false,
  author: "Wren",
  made_at: "",
});
