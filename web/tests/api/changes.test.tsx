// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api, type Piece } from "../../src/api/client";
import { useChanges } from "../../src/api/production/changes";
import { shown } from "../shown";

/** The server's events, as a test sends them. */
class Source {
  static last: Source;
  closed = false;
  onmessage: ((event: { data: string }) => void) | null = null;
  constructor(readonly address: string) {
    Source.last = this;
  }
  close() {
    this.closed = true;
  }
  tell(event: object | string) {
    this.onmessage?.({ data: typeof event === "string" ? event : JSON.stringify(event) });
  }
}
const piece = (id: number, name: string, rail = id) => ({ id, name, rail }) as unknown as Piece;
const client = new QueryClient();
const asked: string[] = [];
let answer: (id: number) => Piece | undefined;

function Page() {
  useChanges();
  return null;
}
let page: Awaited<ReturnType<typeof shown>>;
beforeEach(async () => {
  vi.stubGlobal("EventSource", Source);
  vi.spyOn(client, "invalidateQueries").mockImplementation(async (filter) => {
    asked.push(String(filter?.queryKey?.[0]));
  });
  vi.spyOn(api, "GET").mockImplementation((async (
    path: string,
    { params }: { params: { path: { piece: number } } },
  ) => {
    asked.push(`${path} ${params.path.piece}`);
    return { data: answer(params.path.piece) };
  }) as never);
  asked.length = 0;
  client.setQueryData(["pieces"], [piece(2, "Smock"), piece(1, "Trousers")]);
  page = await shown(
    <QueryClientProvider client={client}>
      <Page />
    </QueryClientProvider>,
  );
});
afterEach(async () => {
  await page.close();
  vi.restoreAllMocks();
});
const soon = () => act(() => new Promise((done) => setTimeout(done, 120)));

test("a piece that changes is fetched alone and put in its place; the others stay the same objects", async () => {
  const [, trousers] = client.getQueryData<Piece[]>(["pieces"]) ?? [];
  answer = () => piece(2, "Smock, let out");
  Source.last.tell({ what: "piece", piece: 2 });
  Source.last.tell({ what: "piece", piece: 2 }); // two changes at once are one fetch
  await soon();
  expect(asked.filter((a) => a.startsWith("/api/pieces"))).toEqual(["/api/pieces/{piece} 2"]);
  expect(asked).not.toContain("pieces");
  const now = client.getQueryData<Piece[]>(["pieces"]) ?? [];
  expect(now.map((p) => p.name)).toEqual(["Smock, let out", "Trousers"]);
  expect(now[1]).toBe(trousers);
});

test("one that is not among the pieces yet, or hangs elsewhere now, has all of them fetched anew", async () => {
  answer = (id) => piece(id, "Boots");
  Source.last.tell({ what: "piece", piece: 9 });
  await soon();
  expect(asked).toContain("pieces");
});

test("after a break everything is asked anew, since what was missed is not known", async () => {
  Source.last.tell({ what: "hello" });
  await soon();
  expect(new Set(asked)).toEqual(
    new Set(["pieces", "cast", "axis", "shots", "outfits", "settings", "trial", "waivers", "pins", "plan"]),
  );
});

test("what is no event is passed over, and the line is closed with the page", async () => {
  for (const junk of ["", "{", "null", '{"what":"moon"}']) Source.last.tell(junk);
  await soon();
  expect(asked).toEqual([]);
  await page.close();
  expect(Source.last.closed).toBe(true);
});
