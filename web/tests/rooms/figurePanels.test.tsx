// @vitest-environment jsdom
import { act } from "react";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { MeasurePanel } from "../../src/rooms/figure/MeasurePanel";
import { PosePanel } from "../../src/rooms/figure/PosePanel";
import { PosingPanel, spoken } from "../../src/rooms/figure/PosingPanel";
import { ShapePanel } from "../../src/rooms/figure/ShapePanel";
import { WearPanel } from "../../src/rooms/figure/WearPanel";
import { useRoom } from "../../src/store/room";
import { house, Refusal } from "../house";
import { settled, shown } from "../shown";
import { aPose, aProduction, aWearer, room, roomNow, said } from "../world";

function Posing() {
  const posing = useRoom((r) => r.posing);
  return posing && <PosingPanel posing={posing} />;
}

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
  const opened = async (answers: Record<string, unknown> = {}) => {
    const server = house({ "PUT /api/wearers/1/shape": {}, ...answers });
    const page = await shown(<MeasurePanel wearer={aWearer(1, "Ibbet")} measures={MEASURES} />);
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

describe("the pose library", () => {
  const LIBRARY = [
    { name: "stand", label: "Standing", family: "house" },
    { name: "reach", label: "Reaching up", family: "work" },
    { name: "mine", label: "On the hook", family: "own" },
  ];
  const opened = async (answers: Record<string, unknown> = {}, wearer = aWearer(1, "Ibbet")) => {
    const server = house({
      "GET /api/poses": LIBRARY,
      "GET /api/motions": [{ name: "row", label: "Rowing", seconds: 3.17 }],
      ...answers,
    });
    const page = await shown(<PosePanel production={aProduction()} wearer={wearer} />);
    await settled();
    return { page, server };
  };

  test("a pose on the axis is gone to; another joins it first", async () => {
    const { page, server } = await opened({ "POST /api/poses": {} });
    await page.press("Standing");
    expect(roomNow().pose).toBe("stand");
    expect(server.sent("POST /api/poses")).toEqual([]);
    await page.press("Reaching up");
    await settled();
    expect(server.sent("POST /api/poses")).toEqual([{ name: "reach" }]);
    expect(roomNow().pose).toBe("reach");
  });

  test("one is taken off the axis, one's own forgotten", async () => {
    const { page, server } = await opened({
      "DELETE /api/poses/stand": undefined,
      "DELETE /api/poses/own/mine": undefined,
    });
    await page.press("Take Standing off the axis");
    await page.press("Forget On the hook");
    await settled();
    expect(server.asked.filter((a) => a.method === "DELETE").map((a) => a.path)).toEqual([
      "/api/poses/stand",
      "/api/poses/own/mine",
    ]);
  });

  test("a motion plays and stops by the same press", async () => {
    const { page } = await opened();
    await page.press("Rowing3.2 s");
    expect(roomNow().motion).toBe("row");
    await page.press("Rowing3.2 s");
    expect(roomNow().motion).toBeNull();
  });

  test("posing by hand begins at this pose; a body of other joints has none", async () => {
    const { page } = await opened();
    await page.press("Pose by hand");
    expect(roomNow().posing).toMatchObject({ rotations: {}, past: [], next: [] });
    await page.close();
    expect((await opened({}, aWearer(1, "Stilt walker", { body: "xx" }))).page.has("button", "Pose by hand")).toBe(
      false,
    );
  });
});

describe("a pose made by hand", () => {
  const JOINTS = [
    { name: "l_knee", handle: true, swings: [{ name: "bend", low: -5, high: 150 }] },
    { name: "l_talocrural", handle: true, swings: [] },
  ];
  const TURNED = { rotations: { l_knee: [0.5, 0, 0, 0.86] }, degrees: [60], short: 0 };
  const opened = async (posing: object = {}, answers: Record<string, unknown> = {}) => {
    room({ posing: { rotations: {}, joint: null, degrees: [], short: 0, past: [], next: [], ...posing } });
    const server = house({ "GET /api/poses/joints": JOINTS, "POST /api/poses/turn": TURNED, ...answers });
    const page = await shown(<Posing />);
    await settled();
    return { page, server };
  };

  test("a joint that is chosen tells its swings within their range, and turns", async () => {
    const { page, server } = await opened();
    expect(await page.options("Joint")).toEqual(["Choose, or pick a bead", "Left knee"]);
    await page.choose("Joint", "l_knee");
    await settled();
    const slider = page.named("[role=slider]", "Bend");
    expect([
      slider.getAttribute("aria-valuemin"),
      slider.getAttribute("aria-valuenow"),
      slider.getAttribute("aria-valuemax"),
    ]).toEqual(["-5", "60", "150"]);
    await page.slide("Bend", 1);
    await settled();
    expect(server.sent("POST /api/poses/turn").at(-1)).toMatchObject({ joint: "l_knee", degrees: [61] });
  });

  test("each move is one step back, and forward again", async () => {
    const { page } = await opened({ joint: "l_knee", degrees: [60], rotations: { l_knee: [0.1, 0, 0, 1] } });
    await page.slide("Bend", 1);
    await page.slide("Bend", 1);
    await settled();
    expect(roomNow().posing?.past).toHaveLength(2);
    await page.press("Undo pose");
    await page.press("Undo pose");
    expect(roomNow().posing?.rotations).toEqual({ l_knee: [0.1, 0, 0, 1] });
    expect(page.disabled("Undo pose")).toBe(true);
    await page.press("Redo pose");
    await page.press("Redo pose");
    expect(roomNow().posing?.rotations).toEqual(TURNED.rotations);
  });

  test("it is mirrored, or one side copied to the other", async () => {
    const { page, server } = await opened({}, { "POST /api/poses/side": { rotations: {}, degrees: [], short: 0 } });
    for (const name of ["Mirror", "Copy left", "Copy right"]) {
      await page.press(name);
      await settled();
    }
    expect(server.sent("POST /api/poses/side").map((b) => (b as { act: string }).act)).toEqual([
      "mirror",
      "copy l",
      "copy r",
    ]);
  });

  test("a bead that cannot be reached says by how much", async () => {
    const { page } = await opened({ joint: "l_talocrural", short: 0.083 });
    expect(page.text()).toContain("Left ankle cannot go further: 8 cm short.");
    expect(page.text()).toContain("Left ankle goes where its bead is dragged.");
  });

  test("it is kept under a name and stands on the axis", async () => {
    const { page, server } = await opened(
      { rotations: { l_knee: [1, 0, 0, 0] } },
      { "POST /api/poses/own": aPose("own-1", "Lantern on the hook", { family: "own" }) },
    );
    expect(page.disabled("Keep")).toBe(true);
    await page.write("Name", " Lantern on the hook ", null);
    await page.press("Keep");
    await settled();
    expect(server.sent("POST /api/poses/own")).toEqual([
      { label: "Lantern on the hook", rotations: { l_knee: [1, 0, 0, 0] } },
    ]);
    expect(roomNow()).toMatchObject({ posing: null, pose: "own-1" });
  });

  test.each([
    ["l_radiocarpal", "Left wrist"],
    ["r_shoulder_twist", "Right upper arm roll"],
    ["vl3", "Small of the back"],
    ["r_metacarpophalangeal_2", "Right knuckle of the index finger"],
    ["l_carpal_distal_interphalangeal_5", "Left end of the little finger"],
    ["l_carpometacarpal_1", "Left root of the thumb"],
    ["skullbase", "Head"],
  ])("%s is called %s", (joint, words) => {
    expect(spoken(joint)).toBe(words);
  });
});
