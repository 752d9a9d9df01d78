import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { LiveSocket } from "../../src/api/wire/live";

/** A socket that keeps what is sent, and answers when a test says so. */
class Line {
  static OPEN = 1;
  static last: Line;
  binaryType = "";
  readyState = 0;
  sent: Record<string, unknown>[] = [];
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;
  onmessage: ((event: { data: ArrayBuffer }) => void) | null = null;

  constructor(readonly url: string) {
    Line.last = this;
  }

  send(text: string): void {
    this.sent.push(JSON.parse(text));
  }

  open(): void {
    this.readyState = Line.OPEN;
    this.onopen?.();
  }

  answer(notes: object): void {
    let head = JSON.stringify({ arrays: [], notes });
    head += " ".repeat((8 - ((4 + head.length) % 8)) % 8);
    const out = new Uint8Array(4 + head.length);
    new DataView(out.buffer).setUint32(0, head.length, true);
    out.set(new TextEncoder().encode(head), 4);
    this.onmessage?.({ data: out.buffer });
  }

  close(): void {
    this.readyState = 3;
  }
}

describe("a live socket", () => {
  const problems: string[] = [];
  const frames: unknown[] = [];
  let socket: LiveSocket<{ ready?: boolean; problem?: string; seq?: number }>;

  beforeEach(() => {
    problems.length = 0;
    frames.length = 0;
    vi.stubGlobal("WebSocket", Line);
    vi.stubGlobal("location", { protocol: "https:", host: "house:8300" });
    socket = new LiveSocket(
      "/api/pieces/3/hand",
      (frame) => frames.push(frame.notes.seq),
      (text) => problems.push(text),
    );
  });
  afterEach(() => vi.unstubAllGlobals());

  it("asks the page's own server, safely where the page is", () => {
    expect(Line.last.url).toBe("wss://house:8300/api/pieces/3/hand");
    expect(Line.last.binaryType).toBe("arraybuffer");
  });

  it("has one message under way at a time, in order, and none before it is open", () => {
    socket.send({ do: "begin" });
    socket.send({ do: "end" });
    expect(Line.last.sent).toEqual([]);
    Line.last.open();
    Line.last.answer({ ready: true });
    expect(Line.last.sent).toEqual([{ do: "begin", seq: 0 }]);
    Line.last.answer({ seq: 0 });
    expect(Line.last.sent).toEqual([
      { do: "begin", seq: 0 },
      { do: "end", seq: 1 },
    ]);
    expect(frames).toEqual([undefined, 0]);
  });

  it("lets a newer dab take the place of one that still waits, and never of another act", () => {
    Line.last.open();
    const dab = (vertex: number) => socket.send({ do: "dab", vertex }, (last) => last.do === "dab");
    socket.send({ do: "begin" });
    dab(1);
    dab(2);
    socket.send({ do: "end" });
    dab(3);
    for (let k = 0; k < 4; k++) Line.last.answer({ seq: k });
    expect(Line.last.sent.map((m) => m.vertex ?? m.do)).toEqual(["begin", 2, "end", 3]);
  });

  it("tells of a problem and goes on with what waits", () => {
    Line.last.open();
    socket.send({ do: "begin" });
    socket.send({ do: "dab" });
    Line.last.answer({ seq: -1, problem: "the coat: it is not bound yet." });
    expect(problems).toEqual(["the coat: it is not bound yet."]);
    expect(Line.last.sent).toHaveLength(2);
    expect(frames).toEqual([]);
  });

  it("says what to do when the line breaks, and nothing when it is closed on purpose", () => {
    const line = Line.last;
    line.onerror?.();
    expect(problems[0]).toContain("Open the step again");
    socket.close();
    expect(line.onerror).toBeNull();
  });
});
