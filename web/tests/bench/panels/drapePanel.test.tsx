// @vitest-environment jsdom
import { beforeEach, describe, expect, test, vi } from "vitest";
import type { DrapeNotes, Fabric } from "../../../src/api/drape";
import draping from "../../../src/bench/steps/drape";
import type { Falling } from "../../../src/bench/steps/drape/useFalling";
import { fresh, type StepOf } from "../../../src/recipe/recipe";
import { house } from "../../house";
import { settled, shown } from "../../shown";
import {
  aFitting,
  aPiece,
  aPose,
  aProduction,
  aWearer,
  type Changes,
  panelProps,
  received,
  room,
  roomNow,
  said,
} from "../../world";

const cloth = (name: string, to: Partial<Fabric> = {}): Fabric => ({
  name,
  weight: 0.18,
  warp: 9000,
  weft: 7000,
  shear: 120,
  bend_warp: 22e-6,
  bend_weft: 18e-6,
  thickness: 0.0004,
  damping: 2,
  friction: 0.4,
  ...to,
});
const FABRICS = [cloth("linen"), cloth("wool felt", { weight: 0.4 }), cloth("oilskin", { weight: 0.35 })];
const MOTIONS = [
  { name: "row", label: "Rowing", seconds: 3.2 },
  { name: "stock-12", label: "From stock", seconds: 1 },
];
const TOLD: DrapeNotes = {
  seq: 5,
  did: "next",
  frame: 11,
  have: 24,
  of: 72,
  ms: 61.4,
  vertices: 5000,
  strain_mean: 0.012,
  strain_99: 0.051,
  speed: 0.1,
  bending_met: 0.7,
  shear_met: 0.95,
  sunk: 0.0123,
  there: true,
};
const BOUND = [fresh("receive"), fresh("fit"), fresh("bind")];
const POSES = [aPose("rest", "Rest"), aPose("stand", "Standing"), aPose("kneel", "Kneeling")];

beforeEach(() => room());

interface Set {
  piece?: Changes;
  others?: Changes[];
  told?: Partial<DrapeNotes> | null;
  falling?: Partial<Falling>;
  answers?: Record<string, unknown>;
}

async function opened({ piece, others = [], told = null, falling: more, answers }: Set = {}) {
  const coat = aPiece({ rail: 1, steps: BOUND, ...piece });
  const pieces = [coat, ...others.map((o) => aPiece({ steps: BOUND, ...o }))];
  const cast = [
    aWearer(1, "Ibbet", { shape: { belly: 0.1 } }),
    aWearer(2, "Corvane", { shape: { belly: 0.6 } }),
    aWearer(3, "Stilt walker", { body: "xx" }),
  ];
  const production = aProduction({ pieces, cast, poses: POSES });
  const fitting = aFitting(production, {
    chosen: POSES[1],
    pose: POSES[1],
    asked: { shape: { belly: 0.1 }, pose: "stand", body: null },
  });
  const falling = {
    told: told && { ...TOLD, ...told },
    playing: false,
    replaying: false,
    fromKept: false,
    ready: true,
    play: vi.fn(),
    stop: vi.fn(),
    show: vi.fn(),
    keep: vi.fn(),
    keepAll: vi.fn(),
    leave: vi.fn(),
    see: vi.fn(async () => undefined),
    replay: vi.fn(),
    goOn: vi.fn(),
    file: vi.fn(),
    ...more,
  };
  const server = house({
    "GET /api/fabrics": FABRICS,
    "GET /api/fabrics/own": [],
    "GET /api/motions": MOTIONS,
    "GET /api/pieces/7/falls": [],
    "GET /api/pieces/7/bake": null,
    ...answers,
  });
  const { props } = panelProps(coat, { production, fitting, falling: falling as unknown as Falling });
  const page = await shown(<draping.Panel {...props} />);
  await settled();
  const played = () => vi.mocked(falling.play).mock.lastCall?.[0] as StepOf<"drape">;
  return { page, server, falling, played };
}

describe("what falls", () => {
  test("linen into this pose, where nothing else is asked for", async () => {
    const { page, played } = await opened();
    await page.press("Let it fall");
    expect(played()).toMatchObject({
      kind: "drape",
      fabric: FABRICS[0],
      cell: { shape: { belly: 0.1 }, pose: "stand" },
      motion: "",
      held: 0.04,
      gust: 0,
      keep: "pose",
      start: null,
    });
    expect(played().cell).not.toHaveProperty("body");
  });

  test("as the piece last fell: in that fabric, held so", async () => {
    const last = { ...fresh("drape"), fabric: FABRICS[2] as Fabric, held: 0.12, substeps: 35, pressure: 4 };
    const { page, played } = await opened({ piece: { steps: [...BOUND, last] } });
    await page.press("Let it fall");
    expect(played()).toMatchObject({ fabric: { name: "oilskin" }, held: 0.12, substeps: 35, pressure: 4 });
  });

  test("at rest, for good, it falls on the shape it was made on", async () => {
    const { page, played } = await opened({ piece: { recipe: { made_on: { belly: 0.4 } } } });
    await page.choose("Falls", "rest");
    await page.press("Let it fall");
    expect(played()).toMatchObject({ cell: { shape: { belly: 0.4 }, pose: "rest" }, keep: "rest" });
  });

  test("through a motion of the house it begins at rest; one of stock is not offered", async () => {
    const { page, played, falling } = await opened();
    expect(await page.options("Falls")).toEqual([
      "into this pose (standing)",
      "at rest, for good",
      "through rowing (3.2 s)",
    ]);
    await page.choose("Falls", "row");
    expect(falling.leave).toHaveBeenCalled(); // what was played before is put back
    await page.press("Let it fall");
    expect(played()).toMatchObject({ motion: "row", cell: { shape: { belly: 0.1 }, pose: "rest" }, keep: "pose" });
  });

  test("a piece that is not bound has first to be bound", async () => {
    const { page } = await opened({ piece: { steps: [fresh("receive")] } });
    expect(page.has("button", "Let it fall")).toBe(false);
  });
});

describe("what holds it and moves it", () => {
  test("each slider says its unit and falls in metres", async () => {
    const { page, played } = await opened();
    await page.slide("Worn at the top", 2);
    await page.slide("Padding", 3);
    await page.slide("Substeps a frame", 1);
    for (const words of ["5.0 cm", "1.5 N/m²", "25"]) expect(page.text()).toContain(words);
    await page.press("Let it fall");
    expect(played()).toMatchObject({ held: 0.05, pressure: 1.5, substeps: 25 });
  });

  test("wind blows from where it is said, in gusts only while it blows", async () => {
    const { page, played } = await opened();
    expect(page.has("[role=slider]", "Gusts")).toBe(false);
    await page.slide("Wind", 8);
    await page.choose("from", "2");
    await page.press("Let it fall");
    expect(played().wind).toEqual([-4, expect.closeTo(0), expect.closeTo(0)]);
    expect(played().gust).toBe(0.3);
    await page.slide("Wind", -8);
    await page.press("Let it fall");
    expect(Math.hypot(...played().wind)).toBe(0);
    expect(played().gust).toBe(0);
  });

  test("it can be cut to another wearer of the same body, not of another", async () => {
    const { page, played } = await opened();
    expect(await page.options("Cut to")).toEqual([
      expect.stringContaining("Ibbet"),
      expect.stringContaining("Corvane"),
    ]);
    await page.choose("Cut to", "2");
    await page.press("Let it fall");
    expect(played().start).toEqual({ belly: 0.6 });
  });
});

describe("what falls along", () => {
  const others = [
    { id: 3, name: "Smock", rail: 0, geometry: "s0" },
    { id: 9, name: "Sash", rail: 2, geometry: "h0" },
    { id: 11, name: "Storm cape", rail: 3, geometry: "c0" },
    { id: 12, name: "Lantern", rail: 4, geometry: "l0", steps: [fresh("receive")] },
  ];

  test("is any bound piece of the rail; what lies between stays as it is worn", async () => {
    const { page, played } = await opened({ others });
    expect(page.text()).not.toContain("Let Lantern fall");
    await page.tick("Let Storm cape fall too");
    await page.press("Let it fall");
    expect(played().along.map((a) => [a.piece, a.outside, a.falls])).toEqual([
      ["h0", true, false],
      ["c0", true, true],
    ]);
    expect(played().over).toEqual(["s0"]);
  });

  test("falls in its own fabric, and what falls is not fallen on", async () => {
    const { page, played } = await opened({ others });
    await page.tick("Let Smock fall too");
    await page.choose("Smock in", "oilskin");
    await page.press("Let it fall");
    expect(played().along).toMatchObject([{ piece: "s0", outside: false, falls: true, fabric: { name: "oilskin" } }]);
    expect(played().over).toEqual([]);
  });
});

describe("what has been played", () => {
  test("says its frame, strain, how low it hangs, and a stiffness that was not reached", async () => {
    const { page } = await opened({ told: {} });
    for (const words of [
      "Frame 12 of 72",
      "0.50 s",
      "1.2 %",
      "5.1 %",
      "1.2 cm lower than worn",
      "61 ms a frame",
      "70 %",
    ])
      expect(page.text()).toContain(words);
  });

  test("is scrubbed, shown as strain, and kept by its frame and name", async () => {
    const { page, falling } = await opened({ told: {} });
    await page.slide("Frame 12", 1);
    expect(falling.show).toHaveBeenLastCalledWith(12);
    await page.choose("Shows", "strain");
    expect(roomNow().fallen).toBe("strain");
    expect(falling.show).toHaveBeenLastCalledWith(11); // drawn anew
    await page.press("Keep this frame");
    expect(falling.keep).toHaveBeenCalledWith(11, expect.stringContaining("linen"));
    await page.press("Keep all");
    expect(falling.keepAll).toHaveBeenCalledWith("linen, standing");
  });

  test("is not kept while the wearer still moves, while it plays, or when it is a kept one", async () => {
    for (const [told, falling] of [
      [{ there: false }, {}],
      [{}, { playing: true }],
      [{}, { fromKept: true }],
      [{}, { replaying: true }],
    ] as const) {
      const { page } = await opened({ told, falling });
      expect(page.disabled("Keep this frame")).toBe(true);
      await page.close();
    }
  });

  test("goes on, plays again from the start, and is put back", async () => {
    const { page, falling } = await opened({ told: {} });
    await page.press("Go on");
    await page.press("From the start");
    await page.press("Replay");
    await page.press("Put it back");
    for (const did of [falling.goOn, falling.play, falling.replay, falling.leave]) expect(did).toHaveBeenCalledOnce();
  });

  test("all frames played, one more can be asked for", async () => {
    const { page } = await opened({ told: { have: 72 } });
    expect(page.has("button", "A frame more")).toBe(true);
  });
});

describe("kept falls", () => {
  const FALL = { id: 5, label: "oilskin, rowing", frames: 76, bytes: 2_400_000, stale: true, made_at: "" };

  test("say how long and large they are, and are seen again", async () => {
    const { page, falling } = await opened({ answers: { "GET /api/pieces/7/falls": [FALL] } });
    expect(page.text()).toContain("3.2 s, 2.4 MB");
    await page.press("oilskin, rowing");
    expect(falling.see).toHaveBeenCalledWith(5);
  });

  test("one that cannot be read is told", async () => {
    const see = vi.fn(() => Promise.reject(new Error("it was made by another version")));
    const { page } = await opened({ falling: { see }, answers: { "GET /api/pieces/7/falls": [FALL] } });
    await page.press("oilskin, rowing");
    await settled();
    expect(said()).toEqual({ kind: "problem", text: "it was made by another version" });
  });

  test("are dropped one by one, and the list is asked for anew", async () => {
    const { page, server } = await opened({
      answers: { "GET /api/pieces/7/falls": [FALL], "DELETE /api/falls/5": undefined },
    });
    await page.press("Drop oilskin, rowing");
    await settled();
    expect(server.sent("DELETE /api/falls/5")).toHaveLength(1);
    expect(server.sent("GET /api/pieces/7/falls")).toHaveLength(2);
  });
});

describe("baking several poses", () => {
  test("takes the poses that are ticked and not kept yet; rest is none", async () => {
    const kept = {
      ...fresh("drape"),
      fabric: FABRICS[0] as Fabric,
      cell: { shape: {}, pose: "kneel" },
      keep: "pose" as const,
    };
    const bake = { id: 1, state: "running", poses: ["Standing"], done: 0, frame: 0, frames: 72, strain: [], why: "" };
    const { page, server } = await opened({
      piece: { steps: [...BOUND, kept], report: { receive: received({ vertices: 50_000 }) } },
      answers: { "POST /api/pieces/7/bake": bake },
    });
    expect(page.text()).toContain("Kneeling, kept");
    expect(page.text()).toContain("72 frames");
    expect(page.text()).toContain("0.6 MB");
    await page.press("Bake");
    await settled();
    expect(server.sent("POST /api/pieces/7/bake")).toMatchObject([
      { poses: ["stand"], step: { keep: "pose", motion: "" } },
    ]);
    expect(page.text()).toContain("standing, 1 of 1");
  });

  test("with nothing ticked there is nothing to bake", async () => {
    const { page } = await opened();
    await page.tick("Standing");
    await page.tick("Kneeling");
    expect(page.disabled("Bake")).toBe(true);
  });

  test("one under way says where it is and can be stopped; the last one is told", async () => {
    const running = {
      id: 1,
      state: "running",
      poses: ["Standing", "Kneeling"],
      done: 1,
      frame: 36,
      frames: 72,
      strain: [0.01],
      why: "",
    };
    const stopped = { ...running, state: "cancelled" };
    const { page } = await opened({
      answers: { "GET /api/pieces/7/bake": running, "POST /api/pieces/7/bake/stop": stopped },
    });
    expect(page.text()).toContain("kneeling, 2 of 2");
    expect(page.page.querySelector<HTMLElement>(".h-1.bg-heron")?.style.width).toBe("75%");
    await page.press("Stop");
    await settled();
    expect(page.text()).toContain("1 of 2");
  });
});

describe("a fabric's figures", () => {
  test("are told in the trade's units, and changed ones make a cloth of one's own", async () => {
    const { page, played } = await opened();
    expect(page.text()).toContain("180 g/m²");
    await page.press("Alter");
    await page.write("Weight, g/m²", "210");
    await page.write("Bend, warp", "30");
    await page.press("Let it fall");
    expect(played().fabric).toEqual({
      ...FABRICS[0],
      name: "linen, altered",
      weight: 0.21,
      bend_warp: expect.closeTo(30e-6, 12),
    });
  });

  test("are kept for the studio under a name, and forgotten again", async () => {
    const mine = cloth("Reed linen", { weight: 0.21 });
    const { page, server } = await opened({
      answers: {
        "POST /api/fabrics/own": [...FABRICS, mine],
        "GET /api/fabrics/own": [mine],
        "DELETE /api/fabrics/own/Reed linen": FABRICS,
        "DELETE /api/fabrics/own/Reed%20linen": FABRICS,
      },
    });
    await page.press("Alter");
    await page.write("Weight, g/m²", "210");
    await page.write("Name of the fabric", " Reed linen ", null);
    await page.press("Keep it");
    await settled();
    expect(server.sent("POST /api/fabrics/own")).toEqual([{ ...FABRICS[0], name: "Reed linen", weight: 0.21 }]);
    expect(page.text()).toContain("One of the studio's own");
    await page.press("Forget it");
    await settled();
    expect(server.asked.filter((a) => a.method === "DELETE")).toHaveLength(1);
    expect(page.text()).toContain("Reed linen, altered");
  });

  test("hang beside another's as swatches, with the drape coefficient", async () => {
    const swatch = { picture: "AA", coefficient: 0.42, bending: [0.031, 0.027] };
    const { page, server } = await opened({ answers: { "POST /api/fabrics/swatch": swatch } });
    await page.press("Swatch");
    await settled();
    expect(server.sent("POST /api/fabrics/swatch").map((f) => (f as Fabric).name)).toEqual(["linen", "wool felt"]);
    expect(page.text()).toContain("42 %");
    await page.choose("beside", "oilskin");
    await settled();
    expect(server.sent("POST /api/fabrics/swatch").at(-1)).toMatchObject({ name: "oilskin" });
  });
});

test("the drapes a piece has are listed by where they were kept, and summed up", async () => {
  const step = (to: Partial<StepOf<"drape">>) => ({ ...fresh("drape"), fabric: FABRICS[2] as Fabric, ...to });
  const made = [
    step({ keep: "rest" }),
    step({ motion: "row", until: 31 }),
    step({ cell: { shape: {}, pose: "kneel" } }),
  ];
  const report = {
    frames: 40,
    vertices: 9,
    fabric: "oilskin",
    strain_mean: 0,
    strain_99: 0,
    speed: 0,
    bending_met: 1,
    shear_met: 1,
    sunk: 0,
  };
  const { page } = await opened({ piece: { steps: [...BOUND, ...made], report: { drape: [report] } } });
  const rows = page.rows("ul.mt-2 li");
  expect(rows[0]).toContain("40 frames");
  expect(rows[1]).toContain("row, frame 31");
  expect(rows[2]).toContain("Kneeling");
  expect(draping.summary(aPiece({ report: { drape: [report, report] } }))).toContain("oilskin");
});
