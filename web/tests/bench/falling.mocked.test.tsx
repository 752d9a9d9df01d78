// @vitest-environment jsdom
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { Piece } from "../../src/api/client";
import type { DrapeNotes, DrapeStep } from "../../src/api/drape";
import { decodeFrame } from "../../src/api/wire/frames";
import type { PieceMesh } from "../../src/stage/mesh/piece";
import { frameOf } from "../framed";
import { shown } from "../shown";

type OnFrame = (frame: ReturnType<typeof decodeFrame<DrapeNotes>>) => void;
const sent: Record<string, unknown>[] = [];
const line = { open: 0, frame: (() => undefined) as OnFrame, problem: (_: string): void => undefined };

vi.mock("../../src/stage/mesh/quality", () => ({ quality: { level: 1, shadows: false, smooth: false } }));
vi.mock("../../src/api/drape", () => ({
  DrapeSocket: class {
    constructor(_: number, frame: OnFrame, problem: (text: string) => void) {
      Object.assign(line, { open: line.open + 1, frame, problem });
    }
    send(ask: Record<string, unknown>) {
      sent.push(ask);
    }
    close() {
      line.open--;
    }
  },
  fetchFall: async () => [0, 1].map((at) => framed(at, 2, "show")),
}));
const { useFalling } = await import("../../src/bench/steps/drape/useFalling");
const { useRoom } = await import("../../src/store/room");

const REST = Float32Array.from([0, 1, 0, 0, 1.2, 0]);
const OF = 3;
let mesh: PieceMesh;
let other: PieceMesh;
let falling: ReturnType<typeof useFalling>;
let page: Awaited<ReturnType<typeof shown>>;

const still = () =>
  ({ kept: REST, source: { points: REST.slice() }, geometry: { userData: {} } }) as unknown as PieceMesh;
const PIECE = { id: 4 } as Piece;

/** A frame in which the cloth has sunk by so many millimetres. */
function framed(frame: number, have: number, did: string) {
  const points = REST.map((x, i) => (i % 3 === 1 ? x - 0.001 * frame : x));
  const notes = { did, frame, have, of: OF, rotations: { l_knee: [1, 0, 0, frame] }, there: frame === OF - 1 };
  return decodeFrame<DrapeNotes>(frameOf({ points, "points:aa": points, strain: new Float32Array(2) }, notes));
}

function Stage() {
  falling = useFalling(PIECE, mesh, new Map([["aa", other]]));
  return null;
}

const lies = (piece: PieceMesh) => piece.source.points[1];
const arrives = (frame: number, have: number, did = "next") => act(async () => line.frame(framed(frame, have, did)));

beforeEach(async () => {
  sent.length = 0;
  line.open = 0;
  mesh = still();
  other = still();
  useRoom.setState({ fallen: "cloth", draping: null, drapingShape: null, saying: null });
  page = await shown(<Stage />);
});
afterEach(() => page.close());

const begin = () => act(async () => falling.play({ kind: "drape", motion: "walk" } as DrapeStep));

test("one frame is asked for at a time, up to the last, and what falls along falls with it", async () => {
  await begin();
  expect(useRoom.getState().drapedThrough).toBe("walk");
  expect(sent.map((s) => s.do)).toEqual(["begin"]);
  await act(async () => line.frame(decodeFrame(frameOf({}, { did: "begin", have: 0, of: OF }))));
  for (let frame = 0; frame < OF; frame++) {
    expect(sent.filter((s) => s.do === "next")).toHaveLength(frame + 1);
    await arrives(frame, frame + 1);
    expect(lies(mesh)).toBeCloseTo(1 - 0.001 * frame);
    expect(lies(other)).toBeCloseTo(1 - 0.001 * frame);
  }
  expect(sent.filter((s) => s.do === "next")).toHaveLength(OF);
  expect(falling.playing).toBe(false);
  expect(falling.told).toMatchObject({ frame: OF - 1, there: true });
  expect(useRoom.getState().draping).toEqual({ l_knee: [1, 0, 0, OF - 1] });
});

test("a frame that was played is shown again at once; one that was not is asked for", async () => {
  await begin();
  await arrives(0, 1);
  await arrives(1, 2);
  sent.length = 0;
  await act(async () => falling.show(0));
  expect(sent).toEqual([]);
  expect(lies(mesh)).toBeCloseTo(1);
  await act(async () => falling.show(2));
  expect(sent).toEqual([{ do: "show", frame: 2, contact: false }]);
});

test("how far the cloth lies off is asked for where a frame that was played does not tell it", async () => {
  await begin();
  await arrives(0, 1);
  useRoom.setState({ fallen: "contact" });
  sent.length = 0;
  await act(async () => falling.show(0));
  expect(sent).toEqual([{ do: "show", frame: 0, contact: true }]);
});

test("a fall that is stopped asks for nothing more, and goes on where it was", async () => {
  await begin();
  await arrives(0, 1);
  await act(async () => falling.stop());
  const asked = sent.length;
  await arrives(1, 2);
  expect(sent).toHaveLength(asked);
  await act(async () => falling.goOn());
  expect(sent.at(-1)).toEqual({ do: "next", contact: false });
  expect(line.open).toBe(1);
});

test("leaving puts every piece and the wearer back, and closes the line", async () => {
  await begin();
  await arrives(0, 1);
  await arrives(1, 2);
  await act(async () => falling.leave());
  expect(mesh.source.points).toEqual(REST);
  expect(other.source.points).toEqual(REST);
  expect(useRoom.getState()).toMatchObject({ draping: null, drapingShape: null });
  expect([line.open, falling.told]).toEqual([0, null]);
});

test("what is kept ends the fall; every frame kept is told and does not", async () => {
  await begin();
  await arrives(0, 1);
  await act(async () => falling.keepAll("Walk in linen"));
  expect(sent.at(-1)).toMatchObject({ do: "keep_all", label: "Walk in linen" });
  await act(async () => line.frame(decodeFrame(frameOf({}, { kept_all: true }))));
  expect(useRoom.getState().saying?.kind).toBe("done");
  expect(line.open).toBe(1);
  await act(async () => line.frame(decodeFrame(frameOf({}, { kept: true }))));
  expect(line.open).toBe(0);
  expect(mesh.source.points).toEqual(REST);
});

test("a problem stops the fall and is told, and what there is can still be seen", async () => {
  await begin();
  await arrives(0, 1);
  await act(async () => line.problem("the store is coming back"));
  expect(falling.playing).toBe(false);
  expect(useRoom.getState().saying).toEqual({ kind: "problem", text: "the store is coming back" });
  await act(async () => falling.show(0));
  expect(lies(mesh)).toBeCloseTo(1);
});

test("a fall that was kept whole is seen without a line to the server, over and over", async () => {
  vi.useFakeTimers();
  await act(async () => falling.see(9));
  expect([line.open, falling.fromKept]).toEqual([0, true]);
  await act(async () => falling.replay());
  const seen: (number | undefined)[] = [];
  for (let k = 0; k < 4; k++) {
    await act(async () => vi.advanceTimersByTime(1000 / 24 + 1));
    seen.push(falling.told?.frame);
  }
  expect(seen).toEqual([0, 1, 0, 1]);
  await act(async () => falling.stop());
  expect(falling.replaying).toBe(false);
  vi.useRealTimers();
});
