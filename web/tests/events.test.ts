import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Changes, eventOf, sheetTook } from "../src/api/wire/events";

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

  it("renew only what they concern, once for many", () => {
    const asked: string[] = [];
    const changes = new Changes((query) => asked.push(query));
    for (let n = 0; n < 5; n++) changes.take({ what: "stock" });
    changes.take({ what: "hunt", hunt: 1 });
    changes.take({ what: "fabrics" });
    vi.advanceTimersByTime(70);
    expect(asked.sort()).toEqual(["fabrics", "own fabrics", "stock"]);
    vi.advanceTimersByTime(5000);
    expect(asked.length).toBe(3);
  });

  it("of a running sheet come at a slower beat, and leave the production alone", () => {
    const asked: string[] = [];
    const changes = new Changes((query) => asked.push(query));
    sheetTook(100);
    for (let cell = 0; cell < 450; cell++) {
      changes.take({ what: "trial", trial: 7 });
      vi.advanceTimersByTime(10);
    }
    expect(asked.filter((query) => query === "trial").length).toBe(4); // four and a half seconds at one a second
    expect(asked).not.toContain("production");
  });

  it("of a piece do not wait for the beat of a sheet", () => {
    const asked: string[] = [];
    const changes = new Changes((query) => asked.push(query));
    sheetTook(200);
    changes.take({ what: "trial", trial: 7 });
    changes.take({ what: "piece", piece: 1 });
    vi.advanceTimersByTime(70);
    expect(asked).toContain("production");
  });
});
