// @vitest-environment jsdom
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { useExplain } from "../../src/api/clearing";
import { shown } from "../shown";

let explain: ReturnType<typeof useExplain>;
let page: Awaited<ReturnType<typeof shown>>;
/** What the server has been asked, and the stream each question is answered on. */
const asked: { body: unknown; signal: AbortSignal; stream: ReadableStreamDefaultController<Uint8Array> }[] = [];
let refused: Response | null = null;

function Why() {
  explain = useExplain();
  return null;
}

const CELL = { cell: { shape: {}, pose: "sit" }, over: "Coat", under: "Skin", ease: 0.004 } as const;
const says = (k: number, text: string) =>
  act(async () => asked[k]?.stream.enqueue(new TextEncoder().encode(text)) ?? undefined);
const line = (said: object) => `${JSON.stringify(said)}\n`;

beforeEach(async () => {
  asked.length = 0;
  refused = null;
  vi.stubGlobal("fetch", async (_: string, { body, signal }: { body: string; signal: AbortSignal }) => {
    if (refused) return refused;
    const stream = new ReadableStream<Uint8Array>({
      start(control) {
        asked.push({ body: JSON.parse(body), signal, stream: control });
        signal.addEventListener("abort", () => control.error(new DOMException("aborted", "AbortError")));
      },
    });
    return { ok: true, body: stream };
  });
  page = await shown(<Why />);
});
afterEach(() => page.close());

const ask = () => act(async () => void explain.ask(CELL));

test("causes and remedies come in one by one, the cheapest remedy first, wherever the stream is cut", async () => {
  await ask();
  expect(asked[0]?.body).toEqual(CELL);
  const text = [
    line({ cause: { words: "Kneeling: at rest it is gone" }, trying: "Easing it out" }),
    line({ remedy: { words: "Ease Coat out", cost: 3 } }),
    line({ remedy: { words: "Tuck Smock in — 2 mm", cost: 1 } }),
    line({ remedy: { words: "Leave it", cost: 2 }, done: true }),
  ].join("");
  for (let at = 0; at < text.length; at += 7) await says(0, text.slice(at, at + 7));
  expect(explain.found?.causes.map((c) => c.words)).toEqual(["Kneeling: at rest it is gone"]);
  expect(explain.found?.remedies.map((r) => r.words)).toEqual(["Tuck Smock in — 2 mm", "Leave it", "Ease Coat out"]);
  expect(explain.found).toMatchObject({ trying: "Easing it out", done: true });
});

test("what was found stays when the artist stops, and what comes after is not taken", async () => {
  await ask();
  await says(0, line({ remedy: { words: "Ease Coat out", cost: 3 } }));
  await act(async () => explain.stop());
  expect(asked[0]?.signal.aborted).toBe(true);
  expect(explain.found).toMatchObject({ done: true, remedies: [{ cost: 3 }] });
  expect(explain.problem).toBeNull();
});

test("another question ends the one before it", async () => {
  await ask();
  await says(0, line({ cause: { words: "of the first" } }));
  await ask();
  expect(asked[0]?.signal.aborted).toBe(true);
  expect(explain.found?.causes).toEqual([]);
  await says(1, line({ cause: { words: "of the second" } }));
  expect(explain.found?.causes.map((c) => c.words)).toEqual(["of the second"]);
});

test("a refusal is told and nothing is shown as found", async () => {
  const told = { what: "Coat does not lie over Boots here", where: "explaining", todo: "Choose another pair." };
  refused = new Response(JSON.stringify(told), { status: 422 });
  await ask();
  expect(explain.found).toBeNull();
  for (const words of Object.values(told)) expect(explain.problem).toContain(words);
});

test("leaving the page ends the question", async () => {
  await ask();
  await page.close();
  expect(asked[0]?.signal.aborted).toBe(true);
});
