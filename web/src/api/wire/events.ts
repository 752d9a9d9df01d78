import type { components } from "../schema";

export type Event = components["schemas"]["Event"];
type What = Event["what"];

/** What is asked of the sheet as a whole. */
const SHEET = ["trial", "waivers", "pins", "plan"] as const;
/** All that the rooms read of a production. */
const ALL = ["pieces", "cast", "axis", "shots", "outfits", "settings", ...SHEET] as const;
/** The queries that each kind of change concerns. */
const CONCERNS: Record<What, readonly string[]> = {
  hello: ALL,
  productions: ["productions"],
  copies: ["copies"],
  outfits: ["outfits", "pieces", "cast", "copies", ...SHEET],
  settings: ["settings", ...SHEET],
  piece: ["pieces", "copies", "outfits", ...SHEET],
  cast: ["cast", "copies", "outfits", ...SHEET],
  poses: ["axis", "cast", ...SHEET], // a body of one's own has the poses on its own joints
  shots: ["shots", ...SHEET],
  wear: ["wear", "pieces", ...SHEET],
  trial: SHEET,
  plan: ["pieces", ...SHEET], // carried out, it changes pieces
  hunt: [], // a hunt is asked after while it runs
  bake: ["bake", "pieces", ...SHEET], // what is baked or kept of a fall becomes a step of its piece
  fall: ["falls", "pieces", ...SHEET],
  layout: ["layout", "layouts"],
  fabrics: ["fabrics", "own fabrics"],
  stock: ["stock"],
  apart: ["apart", "aparts"],
};
const SOON = 60;
/** More changed cells than this are not asked for one by one. */
const MANY = 200;

/** Milliseconds between two looks at a sheet that is being measured: a large one is looked at less often, so as not to slow the workers. */
let pollInterval = 350;

/** Note how long cells of the sheet took to come. */
export function sheetTook(milliseconds: number): void {
  pollInterval = Math.min(2500, Math.max(350, 10 * milliseconds));
}

/** The event in a message of the server; null for one that is none. */
export function eventOf(message: string): Event | null {
  try {
    const event = JSON.parse(message) as Event;
    return event?.what in CONCERNS ? event : null;
  } catch {
    return null;
  }
}

/** What a batch of changes comes to: single pieces and cells that are put in their places, and queries that are asked anew. */
export interface Batch {
  queries: Set<string>;
  pieces: Set<number>;
  /** By run of the sheet: cells as `wearer:pose`. */
  cells: Map<number, Set<string>>;
}

const nothing = (): Batch => ({ queries: new Set(), pieces: new Set(), cells: new Map() });

/** Collects changes and hands them on together, at once; cells of a running sheet at a slower beat. */
export class Changes {
  private batch = nothing();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private due = Number.POSITIVE_INFINITY;

  constructor(private readonly renew: (batch: Batch) => void) {}

  take(event: Event): void {
    const cell = event.what === "trial" && event.wearer && event.pose ? `${event.wearer}:${event.pose}` : null;
    if (!cell && !CONCERNS[event.what].length) return;
    if (cell && event.trial) {
      const known = this.batch.cells.get(event.trial) ?? new Set();
      this.batch.cells.set(event.trial, known.add(cell));
    } else {
      for (const query of CONCERNS[event.what]) {
        if (query === "pieces" && event.what === "piece" && event.piece) this.batch.pieces.add(event.piece);
        else this.batch.queries.add(query);
      }
    }
    const due = performance.now() + (event.what === "trial" && event.trial ? pollInterval : SOON);
    if (due >= this.due) return;
    clearTimeout(this.timer);
    this.due = due;
    this.timer = setTimeout(() => this.flush(), due - performance.now());
  }

  stop(): void {
    clearTimeout(this.timer);
  }

  private flush(): void {
    const { queries, pieces, cells } = this.batch;
    this.batch = nothing();
    this.due = Number.POSITIVE_INFINITY;
    if (queries.has("pieces")) pieces.clear();
    for (const [trial, changed] of cells)
      if (queries.has("trial") || changed.size > MANY) {
        queries.add("trial");
        cells.delete(trial);
      }
    this.renew({ queries, pieces, cells });
  }
}
