import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { type Batch, Changes, eventOf, sheetTook } from "../../src/api/wire/events";

describe("an event", () => {
  it("is read by what it says it is, whatever words stand in it", () => {
    expect(eventOf('{"what":"piece","piece":4}')).toEqual({ what: "piece", piece: 4 });
    expect(eventOf('{"what":"starch"}')).toBe(null);
    expect(eventOf("stock apart fall")).toBe(null);
    expect(eventOf("null")).toBe(null);
  });
});

describe("changes", () => {
  beforeEach(() => vi.useFakeTimers());
  afterEach(() => vi.useRealTimers());

  function listening() {
    const batches: Batch[] = [];
    return { batches, changes: new Changes((batch) => batches.push(batch)) };
  }

  it("renew only what they concern, once for many", () => {
    const { batches, changes } = listening();
    for (let n = 0; n < 5; n++) changes.take({ what: "stock" });
    changes.take({ what: "hunt", hunt: 1 });
    changes.take({ what: "fabrics" });
    vi.advanceTimersByTime(70);
    expect(batches.map((r) => [...r.queries].sort())).toEqual([["fabrics", "own fabrics", "stock"]]);
    vi.advanceTimersByTime(5000);
    expect(batches.length).toBe(1);
  });

  it("of a running sheet come at a slower beat, by the cells that they name, and leave the production alone", () => {
    const { batches, changes } = listening();
    sheetTook(100);
    for (let cell = 0; cell < 450; cell++) {
      changes.take({ what: "trial", trial: 7, wearer: 1 + (cell % 20), pose: `p${cell}` });
      vi.advanceTimersByTime(10);
    }
    expect(batches.length).toBe(4); // four and a half seconds at one a second
    expect(batches.every((r) => r.queries.size === 0 && r.pieces.size === 0)).toBe(true);
    const named = batches.flatMap((r) => [...(r.cells.get(7) ?? [])]);
    expect(named.slice(0, 2)).toEqual(["1:p0", "2:p1"]);
    expect(new Set(named).size).toBe(named.length); // each once
  });

  it("of very many cells have the whole sheet asked once, and so has the end of a run", () => {
    const { batches, changes } = listening();
    for (let cell = 0; cell < 250; cell++) changes.take({ what: "trial", trial: 7, wearer: 1, pose: `p${cell}` });
    vi.advanceTimersByTime(3000);
    changes.take({ what: "trial", trial: 7, wearer: 1, pose: "kneel" });
    changes.take({ what: "trial", trial: 7 });
    vi.advanceTimersByTime(3000);
    expect(batches.map((r) => [r.queries.has("trial"), r.cells.size])).toEqual([
      [true, 0],
      [true, 0],
    ]);
  });

  it("of a piece do not wait for the beat of a sheet, and name the piece", () => {
    const { batches, changes } = listening();
    sheetTook(200);
    changes.take({ what: "trial", trial: 7, wearer: 1, pose: "kneel" });
    changes.take({ what: "piece", piece: 4 });
    vi.advanceTimersByTime(70);
    expect([...(batches[0]?.pieces ?? [])]).toEqual([4]);
    expect(batches[0]?.queries.has("pieces")).toBe(false);
    expect(batches[0]?.queries.has("trial")).toBe(true); // what was measured of it is stale
  });

  it("of all pieces take in those of one", () => {
    const { batches, changes } = listening();
    changes.take({ what: "piece", piece: 4 });
    changes.take({ what: "hello" });
    vi.advanceTimersByTime(70);
    expect(batches[0]?.pieces.size).toBe(0);
    expect(batches[0]?.queries.has("pieces")).toBe(true);
  });
});
