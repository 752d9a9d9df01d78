import { QueryClient } from "@tanstack/react-query";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { api, type Piece, type Trial } from "../../src/api/client";
import { renewCells, renewPiece } from "../../src/api/production/production";

const piece = (id: number, rail: number, name: string) => ({ id, rail, name }) as Piece;
const answers = (data: unknown) => vi.spyOn(api, "GET").mockResolvedValue({ data } as never);
let client: QueryClient;

beforeEach(() => {
  vi.restoreAllMocks();
  client = new QueryClient();
});

describe("one piece that has changed", () => {
  beforeEach(() => client.setQueryData(["pieces"], [piece(2, 1, "Smock"), piece(1, 0, "Base layer")]));
  const names = () => client.getQueryData<Piece[]>(["pieces"])?.map((p) => p.name);

  it("takes its place among the others, which stay the same objects", async () => {
    const other = client.getQueryData<Piece[]>(["pieces"])?.[1];
    answers(piece(2, 1, "Rain smock"));
    expect(await renewPiece(client, 2)).toBe(true);
    expect(names()).toEqual(["Rain smock", "Base layer"]);
    expect(client.getQueryData<Piece[]>(["pieces"])?.[1]).toBe(other);
  });

  it("has all asked for when it is new, gone, or elsewhere on the rail", async () => {
    const asked = answers(piece(2, 3, "Smock"));
    expect(await renewPiece(client, 2)).toBe(false);
    expect(await renewPiece(client, 9)).toBe(false);
    expect(asked).toHaveBeenCalledTimes(1); // an unknown one is not asked for alone
    vi.spyOn(api, "GET").mockRejectedValue(new Error("there is no piece 2"));
    expect(await renewPiece(client, 2)).toBe(false);
    expect(names()).toEqual(["Smock", "Base layer"]);
  });
});

describe("cells of a running sheet", () => {
  const cell = (wearer: number, pose: string, area: number | null) =>
    ({
      wearer,
      pose,
      stale: area === null,
      figures: area === null ? null : { area_cm2: area },
    }) as Trial["cells"][number];
  const shown = () => client.getQueryData<Trial>(["trial"]);
  beforeEach(() =>
    client.setQueryData(["trial"], {
      id: 7,
      state: "running",
      done: 0,
      total: 3,
      cells: [cell(1, "stand", null), cell(1, "kneel", null), cell(2, "stand", null)],
    }),
  );

  it("come into their places, and how far the run is with them", async () => {
    const asked = answers({
      state: "running",
      done: 2,
      seconds: 3,
      cells: [cell(2, "stand", 0.4), cell(1, "stand", 0)],
    });
    expect(await renewCells(client, 7, ["2:stand", "1:stand"])).toBe(true);
    expect(asked.mock.calls[0]?.[1]).toEqual({ params: { path: { trial: 7 }, query: { of: ["2:stand", "1:stand"] } } });
    expect(shown()?.cells.map((c) => c.figures?.area_cm2)).toEqual([0, undefined, 0.4]);
    expect(shown()?.stale).toBe(true); // until the last of what changed is measured
    answers({ state: "done", done: 3, seconds: 4, cells: [cell(1, "kneel", 0)] });
    await renewCells(client, 7, ["1:kneel"]);
    expect(shown()?.stale).toBe(false);
    answers({ state: "running", done: 2, seconds: 3, cells: [] });
    await renewCells(client, 7, []);
    expect(shown()?.done).toBe(2);
    expect(shown()?.total).toBe(3);
  });

  it("of another run than the one shown are not asked for", async () => {
    const asked = answers(null);
    expect(await renewCells(client, 8, ["1:stand"])).toBe(false);
    expect(asked).not.toHaveBeenCalled();
  });
});
