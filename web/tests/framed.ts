import { item } from "../src/recipe/at";

const KINDS: Record<string, string> = {
  Float32Array: "<f4",
  Float64Array: "<f8",
  Int32Array: "<i4",
  Int16Array: "<i2",
  Uint16Array: "<u2",
  BigInt64Array: "<i8",
  Uint8Array: "|u1",
};

/** A frame as docs/formats say: u32 length, JSON header, the arrays one after another. */
export function frameOf(arrays: Record<string, ArrayBufferView>, notes: unknown): ArrayBuffer {
  let offset = 0;
  const entries = Object.entries(arrays).map(([name, view]) => {
    const kind = KINDS[view.constructor.name] ?? ""; // by name: this module may be of another page than the array
    const width = Number(kind.at(-1));
    const entry = { name, dtype: kind, shape: [view.byteLength / width], offset };
    offset += view.byteLength;
    return entry;
  });
  let head = JSON.stringify({ notes, arrays: entries });
  head += " ".repeat((8 - ((4 + new TextEncoder().encode(head).length) % 8)) % 8);
  const text = new TextEncoder().encode(head);
  const out = new Uint8Array(4 + text.length + offset);
  new DataView(out.buffer).setUint32(0, text.length, true);
  out.set(text, 4);
  Object.values(arrays).forEach((view, i) => {
    out.set(new Uint8Array(view.buffer, view.byteOffset, view.byteLength), 4 + text.length + item(entries, i).offset);
  });
  return out.buffer;
}
