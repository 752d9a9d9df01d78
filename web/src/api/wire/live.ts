import { Problem } from "../client";
import { decodeFrame, type Frame } from "./frames";

interface Told {
  ready?: boolean;
  problem?: string;
}

/** A live socket to the server: one message is under way at a time, the rest wait in order. */
export class LiveSocket<Notes extends Told> {
  private readonly socket: WebSocket;
  private busy = 0;
  private waiting: Record<string, unknown>[] = [];
  private seq = 0;

  constructor(path: string, onFrame: (frame: Frame<Notes>) => void, onProblem: (text: string) => void) {
    this.socket = new WebSocket(`${location.protocol === "https:" ? "wss" : "ws"}://${location.host}${path}`);
    this.socket.binaryType = "arraybuffer";
    this.socket.onmessage = (event) => {
      const frame = decodeFrame<Notes>(event.data as ArrayBuffer);
      if (!frame.notes.ready) this.busy = Math.max(0, this.busy - 1);
      if (frame.notes.problem) onProblem(frame.notes.problem);
      else onFrame(frame);
      this.flush();
    };
    this.socket.onopen = () => this.flush();
    this.socket.onerror = () =>
      onProblem(
        new Problem("the live connection to the server broke", "the tools on the stage", "Open the step again.")
          .message,
      );
  }

  /** Send a message; `replaces` says whether it makes one that still waits needless. */
  send(message: Record<string, unknown>, replaces?: (last: Record<string, unknown>) => boolean): void {
    const last = this.waiting.at(-1);
    if (last && replaces?.(last)) this.waiting[this.waiting.length - 1] = message;
    else this.waiting.push(message);
    this.flush();
  }

  private flush(): void {
    while (this.busy < 1 && this.waiting.length && this.socket.readyState === WebSocket.OPEN) {
      this.busy++;
      this.socket.send(JSON.stringify({ ...this.waiting.shift(), seq: this.seq++ }));
    }
  }

  close(): void {
    this.socket.onerror = null;
    this.socket.close();
  }
}
