import { problemOf } from "../client";

type Numbers = Float32Array | Float64Array | Int32Array | Int16Array | Uint16Array | BigInt64Array | Uint8Array;

/** Arrays by name and the notes of one frame: u32 header length, JSON header, data (see store/arrays.py). */
export interface Frame<Notes> {
  notes: Notes;
  array<T extends Numbers>(name: string): T;
  has(name: string): boolean;
  names: string[];
}

const KINDS: Record<string, new (buffer: ArrayBuffer, offset: number, length: number) => Numbers> = {
  "<f4": Float32Array,
  "<f8": Float64Array,
  "<i4": Int32Array,
  "<i2": Int16Array,
  "<u2": Uint16Array,
  "<i8": BigInt64Array,
  "|u1": Uint8Array,
};

export function decodeFrame<Notes>(buffer: ArrayBuffer): Frame<Notes> {
  const size = new DataView(buffer).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, size)));
  const start = 4 + size;
  const found = new Map<string, { dtype: string; shape: number[]; offset: number }>();
  for (const entry of head.arrays) found.set(entry.name, entry);
  return {
    notes: head.notes,
    names: [...found.keys()],
    has: (name) => found.has(name),
    array<T extends Numbers>(name: string): T {
      const entry = found.get(name);
      if (!entry) throw new Error(`the frame holds no ${name}`);
      const length = entry.shape.reduce((a, b) => a * b, 1);
      const kind = KINDS[entry.dtype];
      if (!kind) throw new Error(`the frame holds ${name} as ${entry.dtype}, which is not known here`);
      return new kind(buffer, start + entry.offset, length) as T;
    },
  };
}

export async function fetchFrame<Notes>(path: string, init?: RequestInit): Promise<Frame<Notes>> {
  const answer = await fetch(path, init);
  if (!answer.ok) throw await problemOf(answer);
  return decodeFrame<Notes>(await answer.arrayBuffer());
}
