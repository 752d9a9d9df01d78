import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import type { components } from "../schema";

type Event = components["schemas"]["Event"];
type What = Event["what"];

/** What of a cell depends on the pieces, the cast, the poses or the shots, and so does the sheet. */
const WORN = ["production", "trial", "waivers", "pins", "plan"];
/** The queries that each kind of change concerns. */
const CONCERNS: Record<What, string[]> = {
  hello: WORN,
  piece: WORN,
  cast: WORN,
  poses: WORN,
  shots: WORN,
  wear: WORN,
  trial: ["trial", "waivers", "pins", "plan"],
  plan: WORN, // carried out, it changes pieces
  hunt: [], // a hunt is asked after while it runs
  bake: ["bake", ...WORN], // what is baked or kept of a fall becomes a step of its piece
  fall: ["falls", ...WORN],
  layout: ["layout", "layouts"],
  fabrics: ["fabrics", "own fabrics"],
  stock: ["stock"],
  apart: ["apart", "aparts"],
};
const SOON = 60;

/** Milliseconds between two looks at a sheet that is being measured: a large one is looked at less often, so as not to slow the workers. */
let lull = 350;

/** Note how long the sheet took to come. */
export function sheetTook(milliseconds: number): void {
  lull = Math.min(2500, Math.max(350, 10 * milliseconds));
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

/** Collects changes and has their queries asked anew: at once but together, cells of a running sheet at a slower beat. */
export class Changes {
  private waiting = new Set<string>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private due = Number.POSITIVE_INFINITY;

  constructor(private readonly renew: (query: string) => void) {}

  take(event: Event): void {
    for (const query of CONCERNS[event.what]) this.waiting.add(query);
    if (!this.waiting.size) return;
    const due = performance.now() + (event.what === "trial" && event.trial ? lull : SOON);
    if (due >= this.due) return;
    clearTimeout(this.timer);
    this.due = due;
    this.timer = setTimeout(() => this.flush(), due - performance.now());
  }

  stop(): void {
    clearTimeout(this.timer);
  }

  private flush(): void {
    const now = [...this.waiting];
    this.waiting.clear();
    this.due = Number.POSITIVE_INFINITY;
    for (const query of now) this.renew(query);
  }
}

/** Keep what is shown fresh: every change anyone makes arrives as a server-sent event. */
export function useChanges(): void {
  const client: QueryClient = useQueryClient();
  useEffect(() => {
    const source = new EventSource("/api/events");
    const changes = new Changes((query) => client.invalidateQueries({ queryKey: [query] }));
    source.onmessage = ({ data }) => {
      const event = eventOf(String(data));
      if (event) changes.take(event);
    };
    return () => {
      source.close();
      changes.stop();
    };
  }, [client]);
}
