// @vitest-environment jsdom
import { act } from "react";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { MeasurePanel } from "../../src/rooms/figure/MeasurePanel";
import { ShapePanel } from "../../src/rooms/figure/ShapePanel";
import { WearPanel } from "../../src/rooms/figure/WearPanel";
import { house, Refusal } from "../house";
import { settled, shown } from "../shown";
import { aProduction, aWearer, room, roomNow, said } from "../world";

beforeEach(() => room());
afterEach(() => vi.unstubAllGlobals());

describe("the shape of a wearer", () => {
  const SHAPES = [
    { name: "stature", label: "Stature", group: "build", more: "taller", less: "shorter", sided: false, least: -1 },
    { name: "calf", label: "Calf", group: "build", more: "fuller", less: "slimmer", sided: true, least: -0.5 },
    { name: "bust", label: "Bust", group: "torso", more: "fuller", less: "flatter", sided: false, least: -1 },
  ];
  const opened = async (shape: Record<string, number> = {}, answers: Record<string, unknown> = {}) => {
    const server = house({ "PUT /api/wearers/1/shape": {}, ...answers });
    const page = await shown(<ShapePanel shapes={SHAPES} wearer={aWearer(1, "Ibbet", { shape, can_undo: true })} />);
    const kept = () => server.sent("PUT /api/wearers/1/shape").map((b) => (b as { shape: object }).shape);
    return { page, server, kept };
  };

  test("is live on the stage until the server has it, and shapes at 0 are not kept", async () => {
    const waiting: ((ok: object) => void)[] = [];
    const { page, kept } = await opened(
      { bust: 0.01 },
      { "PUT /api/wearers/1/shape": () => new Promise((done) => waiting.push(done)) },
    );
    await page.slide("Stature", 2);
    expect(roomNow().live).toEqual({ bust: 0.01, stature: 0.02 });
    await settled();
    expect(kept()).toHaveLength(2);
    waiting[0]?.({});
    await settled();
    expect(roomNow().live).toEqual({ bust: 0.01, stature: 0.02 }); // the second is still on its way
    waiting[1]?.({});
    await settled();
    expect(roomNow().live).toBeNull();
    await page.press("torso");
    await page.slide("Bust", -1);
    await settled();
    expect(kept().at(-1)).toEqual({}); // the wearer's own, 0.01, moved to 0
    for (const done of waiting) done({});
    await settled();
  });

  test("a group says how many of its shapes are in use", async () => {
    const { page } = await opened({ stature: 0.3, calf_left: 0.1 });
    expect(page.rows("section section > button")).toEqual(["build2 of 2", "torso1"]);
  });

  test("a sided shape moves both sides, keeping what sets them apart", async () => {
    const { page, kept } = await opened({ calf: 0.2, calf_left: 0.1 });
    await page.slide("Calf, right", 1);
    await settled();
    expect(kept().at(-1)).toEqual({ calf: 0.21, calf_left: 0.09 }); // the left stays where it is, at 0.3
    await page.slide("Calf, left", 1);
    await settled();
    expect(kept().at(-1)).toEqual({ calf: 0.2, calf_left: 0.11 });
  });

  test("put together again the left goes where the right is", async () => {
    const { page, kept } = await opened({ calf: 0.2, calf_left: 0.1 });
    await page.press("Calf: both sides together");
    await settled();
    expect(kept()).toEqual([{ calf: 0.2 }]);
  });

  test("beyond the tested range it warns, and what lies there already can be seen", async () => {
    const { page } = await opened({ stature: 1.3 });
    expect(page.text()).toContain("Beyond the tested range: check for folds.");
    expect(page.named("[role=slider]", "Stature").getAttribute("aria-valuemax")).toBe("1.3");
    await page.tick("Allow values beyond the tested range");
    expect(page.named("[role=slider]", "Stature").getAttribute("aria-valuemax")).toBe("1.5");
    expect(page.named("[role=slider]", "Calf").getAttribute("aria-valuemin")).toBe("-0.5"); // as far as the body goes
  });

  test("all shapes go to the middle, and a wearer out of the cast once that is confirmed", async () => {
    vi.stubGlobal("confirm", () => true);
    const { page, server, kept } = await opened({ stature: 0.4 }, { "DELETE /api/wearers/1": undefined });
    await page.press("All shapes to the middle");
    await settled();
    expect(kept()).toEqual([{}]);
    await page.press("Take Ibbet out of the cast");
    await settled();
    expect(server.sent("DELETE /api/wearers/1")).toHaveLength(1);
    expect(roomNow()).toMatchObject({ wearer: null, panel: null });
  });

  test("a change that is refused is told, and the stage shows what is kept", async () => {
    const { page } = await opened(
      {},
      { "PUT /api/wearers/1/shape": new Refusal(404, "there is no such wearer", "Ibbet", "Choose another.") },
    );
    await page.slide("Stature", 1);
    await settled();
    expect(said()?.text).toContain("there is no such wearer");
    expect(roomNow().live).toBeNull();
  });

  test("a body without morphs says that it has none", async () => {
    house({});
    const page = await shown(<ShapePanel shapes={[]} wearer={aWearer(1, "Stilt walker")} />);
    expect(page.text()).toContain("This body came without morphs");
  });
});

describe("measures", () => {
  const measure = (name: string, label: string, value: number, group = "girths") => ({
    name,
    label,
    group,
    clause: "5.3.4",
    value,
    line: [],
    closed: true,
  });
  const MEASURES = [
    measure("bust_girth", "Bust girth", 0.962),
    measure("waist_girth", "Waist girth", 0.78),
    measure("stature", "Stature", 1.68, "heights"),
  ];
  const opened = async (answers: Record<string, unknown> = {}, lengths: "cm" | "in" = "cm") => {
    const server = house({ "PUT /api/wearers/1/shape": {}, ...answers });
    const page = await shown(<MeasurePanel wearer={aWearer(1, "Ibbet")} measures={MEASURES} lengths={lengths} />);
    return { page, server };
  };

  test("stand in centimetres, in groups, and the one pointed at shows its tape", async () => {
    const { page } = await opened();
    expect(page.rows("label")).toEqual(["Bust girth96.2", "Waist girth78.0", "Stature168.0"]);
    await act(async () =>
      page.named("input", "Waist girth wanted").dispatchEvent(new FocusEvent("focusin", { bubbles: true })),
    );
    expect(roomNow().tape).toBe("waist_girth");
  });

  test("what is written is solved in metres, and the shape found is kept", async () => {
    const found = { shape: { bust: 0.4 }, reached: { bust_girth: 1.0399 }, met: { bust_girth: true, stature: true } };
    const { page, server } = await opened({ "POST /api/measures/solve": found });
    await page.write("Bust girth wanted", "104,0", null);
    await page.write("Stature wanted", "171", null);
    await page.press("Solve 2 measures");
    await settled();
    expect(server.sent("POST /api/measures/solve")).toEqual([
      { asked: { bust_girth: 1.04, stature: 1.71 }, around: {} },
    ]);
    expect(server.sent("PUT /api/wearers/1/shape")).toEqual([{ shape: { bust: 0.4 } }]);
    expect(said()).toEqual({ kind: "done", text: "Ibbet now meets all 2 measures within 5 mm." });
  });

  test("in inches, what stands and what is written are inches, and metres are solved", async () => {
    const found = { shape: {}, reached: { bust_girth: 1.016 }, met: { bust_girth: true } };
    const { page, server } = await opened({ "POST /api/measures/solve": found }, "in");
    expect(page.rows("label")).toEqual(["Bust girth37.9", "Waist girth30.7", "Stature66.1"]);
    expect(page.text()).toContain("In inches");
    await page.write("Bust girth wanted, in inches", "40");
    await settled();
    const [{ asked }] = server.sent("POST /api/measures/solve") as [{ asked: Record<string, number> }];
    expect(asked.bust_girth).toBeCloseTo(1.016, 6);
  });

  test("a measure out of reach is marked, and said to be", async () => {
    const found = { shape: {}, reached: { bust_girth: 1.2 }, met: { bust_girth: false } };
    const { page } = await opened({ "POST /api/measures/solve": found });
    await page.write("Bust girth wanted", "190");
    await settled();
    expect(said()).toEqual({ kind: "problem", text: "1 of 1 measures are out of the figure's reach; marked." });
    expect(page.named("label", "Bust girth").className).toContain("text-amber");
  });

  test.each(["wide", "0", "-80"])("'%s' is no measure, and is not solved", async (typed) => {
    const { page, server } = await opened();
    await page.write("Bust girth wanted", typed);
    expect(page.disabled("Solve")).toBe(true);
    expect(server.asked).toEqual([]);
  });

  test("a sheet fills them in; one that cannot be read says where", async () => {
    const read = await opened({ "POST /api/measures/sheet": { asked: { waist_girth: 0.814 } } });
    await read.page.files("Measure sheet", [new File(["waist girth,81.4,cm"], "ibbet.csv")]);
    await settled();
    expect(read.page.value("Waist girth wanted")).toBe("81.4");
    await read.page.press("Clear");
    expect(read.page.value("Waist girth wanted")).toBe("");
    await read.page.close();
    const bad = await opened({
      "POST /api/measures/sheet": new Refusal(422, "there is no measure 'wrist'", "line 3", "See the list."),
    });
    await bad.page.files("Measure sheet", [new File(["wrist,9"], "bad.csv")]);
    await settled();
    expect(said()?.text).toBe("line 3: there is no measure 'wrist'. See the list.");
  });
});

describe("wearing it on the cast", () => {
  const row = (wearer: number, piece: number, state: string, to: object = {}) => ({
    piece,
    piece_name: piece === 7 ? "Oilskin coat" : "Smock",
    wearer,
    wearer_name: "",
    state,
    under_before: null,
    under_after: null,
    why: "",
    ...to,
  });

  test("each piece on each wearer has a row that leads there", async () => {
    const rows = [
      row(1, 7, "done"),
      row(1, 5, "mended", { under_before: 0.031, under_after: 0.002 }),
      row(2, 7, "needs", { why: "it is too small" }),
      row(2, 5, "waiting"),
    ];
    house({ "GET /api/wear": { id: 3, state: "done", rows } });
    const page = await shown(<WearPanel production={aProduction()} />);
    await settled();
    expect(page.rows("li")).toEqual([
      "Oilskin coatdone",
      "Smockmended 3.1 → 0.2 %",
      "Oilskin coatneeds you",
      "Smockwaiting",
    ]);
    expect(page.text()).toContain("Oilskin coat: it is too small");
    await page.press("Smock");
    expect(roomNow()).toMatchObject({ wearer: 1, piece: 5 });
  });

  test("a run is begun on all, says what is left, and stops", async () => {
    let state = "done";
    const run = () => ({ id: 3, state, rows: [row(1, 7, "done"), row(1, 5, "waiting")] });
    const server = house({
      "GET /api/wear": run,
      "POST /api/wear": () => {
        state = "running";
        return run();
      },
      "DELETE /api/wear/3": () => {
        state = "cancelled";
        return run();
      },
    });
    const page = await shown(<WearPanel production={aProduction()} />);
    await settled();
    await page.press("Wear it on all 3");
    await settled();
    expect(server.sent("POST /api/wear")).toEqual([{ wearers: null }]);
    expect(page.text()).toContain("1 left");
    await page.press("Stop");
    await settled();
    expect(page.has("button", "Wear it on all 3")).toBe(true);
  });
});
