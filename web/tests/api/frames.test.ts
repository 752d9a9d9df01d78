import { describe, expect, it } from "vitest";
import { decodeFrame } from "../../src/api/wire/frames";
import { item } from "../../src/recipe/at";

/** A frame as docs/formats say: u32 length, JSON header, the arrays one after another. */
function frameOf(
  arrays: { name: string; dtype: string; shape: number[]; bytes: Uint8Array }[],
  notes: unknown,
): ArrayBuffer {
  let offset = 0;
  const entries = arrays.map(({ name, dtype, shape, bytes }) => {
    const entry = { name, dtype, shape, offset };
    offset += bytes.length;
    return entry;
  });
  let head = JSON.stringify({ notes, arrays: entries });
  head += " ".repeat((8 - ((4 + new TextEncoder().encode(head).length) % 8)) % 8);
  const text = new TextEncoder().encode(head);
  const out = new Uint8Array(4 + text.length + offset);
  new DataView(out.buffer).setUint32(0, text.length, true);
  out.set(text, 4);
  arrays.forEach(({ bytes }, i) => {
    out.set(bytes, 4 + text.length + item(entries, i).offset);
  });
  return out.buffer;
}

const bytes = (view: ArrayBufferView) => new Uint8Array(view.buffer, view.byteOffset, view.byteLength);

describe("a frame of arrays", () => {
  const points = new Float32Array([0.5, -1.25, 3]);
  const rows = new Int32Array([7, 2 ** 31 - 1]);
  const frame = decodeFrame<{ said: string }>(
    frameOf(
      [
        { name: "points", dtype: "<f4", shape: [1, 3], bytes: bytes(points) },
        { name: "none", dtype: "<f4", shape: [0, 3], bytes: new Uint8Array(0) },
        { name: "rows", dtype: "<i4", shape: [2], bytes: bytes(rows) },
      ],
      { said: "Käthe, 2 mm" },
    ),
  );

  it("gives each array back as it was written, and the notes", () => {
    expect([...frame.array<Float32Array>("points")]).toEqual([0.5, -1.25, 3]);
    expect([...frame.array<Int32Array>("rows")]).toEqual([7, 2147483647]);
    expect(frame.array<Float32Array>("none")).toHaveLength(0);
    expect(frame.notes.said).toBe("Käthe, 2 mm");
    expect(frame.names).toEqual(["points", "none", "rows"]);
  });

  it("names what it does not hold", () => {
    expect(frame.has("weights")).toBe(false);
    expect(() => frame.array("weights")).toThrow("weights");
  });

  it("fails on a header that is cut off", () => {
    const whole = frameOf([], {});
    expect(() => decodeFrame(whole.slice(0, 9))).toThrow();
  });
});
