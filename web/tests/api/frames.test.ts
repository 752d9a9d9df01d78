import { describe, expect, it, vi } from "vitest";
import { decodeFrame, fetchFrame } from "../../src/api/wire/frames";
import { frameOf } from "../framed";

describe("a frame of arrays", () => {
  const frame = decodeFrame<{ said: string }>(
    frameOf(
      {
        points: new Float32Array([0.5, -1.25, 3]),
        none: new Float32Array(0),
        rows: new Int32Array([7, 2 ** 31 - 1]),
        steps: new Int16Array([-300, 12]),
        edit: new BigInt64Array([2n ** 40n]),
      },
      { said: "Käthe, 2 mm" },
    ),
  );

  it("gives each array back as it was written, and the notes", () => {
    expect([...frame.array<Float32Array>("points")]).toEqual([0.5, -1.25, 3]);
    expect([...frame.array<Int32Array>("rows")]).toEqual([7, 2147483647]);
    expect([...frame.array<Int16Array>("steps")]).toEqual([-300, 12]);
    expect(frame.array<Float32Array>("none")).toHaveLength(0);
    expect(frame.notes.said).toBe("Käthe, 2 mm");
    expect(frame.names).toEqual(["points", "none", "rows", "steps", "edit"]);
  });

  it("names what it does not hold", () => {
    expect(frame.has("weights")).toBe(false);
    expect(() => frame.array("weights")).toThrow("weights");
  });

  it("fails on a header that is cut off", () => {
    const whole = frameOf({}, {});
    expect(() => decodeFrame(whole.slice(0, 9))).toThrow();
  });

  it("that the server refuses is the problem it tells: what, where, and what to do", async () => {
    const told = { what: "the piece is not bound yet", where: "the adjusters", todo: "Bind it first." };
    vi.stubGlobal("fetch", async () => new Response(JSON.stringify(told), { status: 422 }));
    await expect(fetchFrame("/api/pieces/3/adjusters")).rejects.toMatchObject(told);
    vi.stubGlobal("fetch", async () => new Response("<html>", { status: 502 }));
    await expect(fetchFrame("/api/pieces/3/adjusters")).rejects.toMatchObject({ what: "the server answered 502" });
    vi.unstubAllGlobals();
  });
});
