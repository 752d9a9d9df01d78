// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, describe, expect, test, vi } from "vitest";
import binding from "../../../src/bench/steps/bind";
import { BindPanel } from "../../../src/bench/steps/bind/BindPanel";
import { fresh, type StepOf } from "../../../src/recipe/recipe";
import { house, Refusal } from "../../house";
import { settled, shown } from "../../shown";
import { aMesh, aPiece, type Changes, panelProps, received, room, roomNow } from "../../world";

const BIND = { ...fresh("bind"), reach: 0.1, source: "body" as const };
const REPORT = {
  joints: 24,
  most: 4,
  accepted: 0.87,
  solved: 0.13,
  own: false,
  joints_unknown: [],
  how: "solve",
  worn_as: "cloth",
  hangs: 0,
  legs: null,
  carried_by: null,
  spring: false,
  links: 0,
  length_mm: 0,
  parts: [],
  findings: [],
};
const JOINTS = [
  { name: "l_shoulder", label: "left shoulder", bears: 210 },
  { name: "skull_base", label: "head", bears: 0 },
  { name: "vl5", label: "loins", bears: 640 },
  { name: "l_radiocarpal", label: "left wrist", bears: 3 },
];
const STRAY = {
  kind: "stray" as const,
  count: 2,
  joint: "l_hip",
  text: "2 vertices of the sleeve follow the left hip",
  mend: "Give them back",
  rows: [0, 3],
};
const LEAK = {
  kind: "leak" as const,
  count: 1,
  joint: "r_shoulder",
  text: "1 leaks over",
  mend: "Part them",
  rows: [2],
};

beforeEach(() => room());

async function opened(piece: Changes = {}, more: Parameters<typeof panelProps>[1] = {}, answers = {}) {
  const server = house({ "GET /api/pieces/7/joints": JOINTS, ...answers });
  const made = aPiece({ steps: [fresh("receive"), BIND], report: { bind: REPORT }, ...piece });
  const { props, kept } = panelProps(made, more);
  const weighed: { steps: StepOf<"weigh">[]; label: string }[] = [];
  const page = await shown(
    <BindPanel {...props} onWeigh={(steps, label) => weighed.push({ steps: steps as StepOf<"weigh">[], label })} />,
  );
  await settled();
  return { page, kept, weighed, server, last: () => kept.at(-1)?.step };
}

describe("where the weights come from", () => {
  test("before it is bound there is nothing to see, and a rigid thing can be carried at once", async () => {
    const { page, kept } = await opened({ steps: [fresh("receive")], report: {} });
    expect(["Brush", "Checks", "Bend"].map((t) => page.disabled(t))).toEqual([true, true, true]);
    await page.press("Carry it by a joint");
    expect(kept).toEqual([
      { step: { ...fresh("bind"), source: "joint", joint: "l_radiocarpal" }, label: "Carry by a joint" },
    ]);
  });

  test.each([
    ["Loose piece", { source: "body", reach: 0.1 }, 0.03],
    ["Fitted piece", { source: "body", reach: 0.03 }, 0.1],
    ["Carried by", { source: "joint", joint: "l_radiocarpal" }, 0.1],
  ])("%s: the choice and how far it reaches are kept, the rest as it was", async (name, change, reach) => {
    const before = { ...BIND, reach, even: false };
    const { page, last } = await opened({ steps: [before] });
    await act(async () => page.named<HTMLInputElement>("input[type=radio]", name).click());
    expect(last()).toEqual({ ...before, ...change });
  });

  test("its own weights are offered where the file brought some", async () => {
    expect((await opened()).page.text()).not.toContain("Its own weights");
    const { page, last } = await opened({ report: { receive: received({ joints: 31 }), bind: REPORT } });
    expect(page.text()).toContain("as they came, from 31 joints");
    await act(async () => page.named<HTMLInputElement>("input[type=radio]", "Its own weights").click());
    expect(last()).toMatchObject({ source: "own" });
  });

  test("boxes and the list of how it is worn change their own field", async () => {
    const under = [{ name: "Smock", geometry: "bb02" }];
    const { page, kept, last } = await opened({}, { under });
    await page.tick("and from smock");
    expect(last()).toEqual({ ...BIND, over: ["bb02"] });
    await page.tick("eight joints a vertex");
    expect(last()).toEqual({ ...BIND, most: 8 });
    await page.tick("stretch evened out");
    expect(last()).toEqual({ ...BIND, even: false });
    await page.tick("nearest skin alone");
    expect(last()).toEqual({ ...BIND, how: "nearest" });
    await page.choose("Worn", "sole");
    expect(last()).toEqual({ ...BIND, worn_as: "sole" });
    expect(kept.map((k) => k.label)).toEqual([
      "Bind to what lies under",
      "Eight joints a vertex",
      "Stretch left as taken",
      "Nearest skin alone",
      "Bind sole",
    ]);
  });

  test("what hangs between the legs can be shared more or less, or not at all", async () => {
    const legs = { stretch: 2.4, pose: "stride", depth_mm: 7 };
    const { page, last } = await opened({ report: { bind: { ...REPORT, hangs: 310, legs } } });
    expect(page.text()).toContain("2.4 times, legs 7 mm through");
    await page.slide("Shared over", 1);
    expect(last()).toMatchObject({ width: 0.15 });
    await page.tick("each leg carries its half");
    expect(last()).toMatchObject({ legs: "off" });
  });

  test("parts that keep their form are ticked, and a change of one takes it out of the other list", async () => {
    const parts = [
      { name: "sleeve", rigid: false, vertices: 900, size_mm: 610, vertex: 11, joint: null },
      { name: "button", rigid: true, vertices: 30, size_mm: 21, vertex: 44, joint: "vl5" },
    ];
    const steps = [{ ...BIND, rigid: [44], cloth: [9] }];
    const { page, last } = await opened({ steps, report: { bind: { ...REPORT, parts } } });
    expect(page.text()).toContain("2.1 cm · vl5");
    await page.tick("button");
    expect(last()).toMatchObject({ rigid: [], cloth: [9, 44] });
    await page.tick("sleeve");
    expect(last()).toMatchObject({ rigid: [44, 11], cloth: [9] });
    await page.tick("ride one joint alone");
    expect(last()).toMatchObject({ alone: !steps[0]?.alone });
  });
});

describe("carried by one joint", () => {
  const carried = { ...BIND, source: "joint" as const, joint: "l_radiocarpal" };

  test("joints that bear some of it come first, the most first", async () => {
    const { page } = await opened({ steps: [carried] });
    expect(await page.options("Joint")).toEqual([
      "loins (vl5) · 640",
      "left shoulder (l_shoulder) · 210",
      "left wrist (l_radiocarpal) · 3",
      "head (skull_base)",
    ]);
  });

  test("it hangs on a spring whose figures are kept one by one, or firmly again", async () => {
    const { page, last } = await opened({ steps: [carried] });
    await page.tick("swings on a spring");
    const spring = { links: 1, stiffness: 4, damping: 2, gravity: 1, limit: 1.4 };
    expect(last()).toEqual({ ...carried, spring });
    await page.close();
    const hung = await opened({ steps: [{ ...carried, spring }] });
    await hung.page.slide("Slowed", 1);
    expect(hung.last()).toMatchObject({ spring: { ...spring, damping: 2.5 } });
    await hung.page.choose("Links of the chain", "3");
    expect(hung.last()).toMatchObject({ spring: { ...spring, links: 3 } });
    await hung.page.tick("swings on a spring");
    expect(hung.last()).toMatchObject({ spring: null });
  });

  test("the report says which joint and how long each link is", async () => {
    const report = { ...REPORT, carried_by: "left wrist", spring: true, links: 2, length_mm: 240 };
    const { page } = await opened({ steps: [carried], report: { bind: report } });
    expect(page.text()).toContain("left wrist, 2 links of 12.0 cm");
  });
});

describe("the brush", () => {
  const onBrush = async (piece: Changes = {}) => {
    const all = await opened(piece);
    await all.page.press("Brush");
    await settled();
    return all;
  };

  test("it opens with the joint that bears the most, and shows its weights", async () => {
    await onBrush();
    expect(roomNow()).toMatchObject({ map: "weights", weights: { tool: "add", joint: "vl5" } });
  });

  test("a tool is put down by the press that took it up; to share takes a pair", async () => {
    const { page } = await onBrush();
    expect(page.disabled("Share")).toBe(true);
    await page.press("Iron");
    expect([page.pressed("Iron"), roomNow().weights.tool]).toEqual(["true", "iron"]);
    await page.press("Iron");
    expect(roomNow().weights.tool).toBeNull();
    await page.choose("Pair", "l_shoulder");
    await page.press("Share");
    expect(roomNow().weights).toMatchObject({ tool: "share", other: "l_shoulder" });
  });

  test("a joint is locked once, never the one in hand, and let go again", async () => {
    const { page } = await onBrush();
    expect(await page.options("Lock a joint")).toEqual(["choose…", "l_shoulder", "l_radiocarpal"]);
    await page.choose("Lock a joint", "l_shoulder");
    expect(await page.options("Lock a joint")).toEqual(["choose…", "l_radiocarpal"]);
    await page.press("l_shoulder");
    expect(roomNow().weights.locks).toEqual([]);
  });

  test("a region is filled with the joint in hand, after the strokes made before", async () => {
    const stroke = { ...fresh("weigh"), tool: "add" as const, joint: "l_shoulder", dabs: [4] };
    const { page, weighed } = await onBrush({ steps: [BIND, stroke] });
    await page.choose("Region to fill", "l_upper_arm");
    await page.press("Fill");
    expect(weighed[0]?.label).toBe("Fill with vl5");
    expect(weighed[0]?.steps).toMatchObject([
      stroke,
      { kind: "weigh", tool: "fill", joint: "vl5", region: "l_upper_arm", strength: 0.3, dabs: [] },
    ]);
  });

  test("one stroke of many is taken back by its place", async () => {
    const strokes = ["vl5", "l_shoulder", "vl5"].map((joint) => ({ ...fresh("weigh"), tool: "add" as const, joint }));
    const { page, weighed } = await onBrush({ steps: [BIND, ...strokes] });
    await page.press("Take add l_shoulder back");
    expect(weighed).toEqual([{ steps: [strokes[0], strokes[2]], label: "Without add l_shoulder" }]);
  });
});

describe("checks", () => {
  const faulty = { report: { bind: { ...REPORT, findings: [STRAY, LEAK] } } };
  const onChecks = async (piece: Changes, mesh = aMesh()) => {
    const all = await opened(piece, { mesh });
    await all.page.press("Checks");
    return all;
  };

  test("without faults it says what was looked for", async () => {
    const { page } = await onChecks({});
    expect(page.text()).toContain("Nothing is wrong with these weights.");
    expect(roomNow().map).toBe("cloth");
  });

  test("a fault is shown on the mesh, with its joint in hand, and hidden again", async () => {
    const { page } = await onChecks(faulty);
    expect(page.text()).toContain("Checks2");
    await page.press("Show");
    expect(roomNow()).toMatchObject({ map: "faults", weights: { faults: [0, 3], joint: "l_hip" } });
    await page.press("Hide");
    expect(roomNow().weights.faults).toEqual([]);
  });

  test("a mend names the vertices as they were received, however the drawn mesh was split", async () => {
    const { page, weighed } = await onChecks(faulty, aMesh([70, 71, 72, 70]));
    await page.press("Give them back");
    expect(weighed).toEqual([
      { steps: [{ kind: "mend", kinds: ["stray"], rows: [70, 70] }], label: "Give them back: l_hip" },
    ]);
  });

  test("all are mended at once, each kind wherever it is", async () => {
    const { page, weighed } = await onChecks({
      report: { bind: { ...REPORT, findings: [STRAY, LEAK, { ...STRAY, joint: "r_hip" }] } },
    });
    await page.press("Mend all");
    expect(weighed[0]?.steps).toEqual([{ kind: "mend", kinds: ["stray", "leak"], rows: [] }]);
  });

  test("while the piece is worked out no second mend is sent", async () => {
    const { page } = await onChecks({ ...faulty, status: "waiting" });
    expect([page.disabled("Give them back"), page.disabled("Mend all")]).toEqual([true, true]);
  });
});

describe("the bend test", () => {
  const knee = {
    joint: "l_knee",
    label: "left knee",
    swing: "bends",
    degrees: 140,
    stretch: 1.62,
    depth_mm: 8.4,
    rotations: { l_knee: [0.9, 0, 0, 0.4] },
  };
  const hip = {
    joint: "r_hip",
    label: "right hip",
    swing: "lifts",
    degrees: 100,
    stretch: 1.2,
    depth_mm: 0.2,
    rotations: { r_hip: [0.7, 0, 0, 0.7] },
  };
  const bent = { "POST /api/pieces/7/bend-test": [knee, hip] };

  test("each swing is listed with stretch and depth, and a click goes there", async () => {
    const { page, server } = await opened({}, {}, bent);
    await page.press("Bend");
    await page.press("Bend it");
    await settled();
    expect(server.sent("POST /api/pieces/7/bend-test")).toHaveLength(1);
    expect(page.rows("tbody tr")).toEqual(["L. knee bends 140°× 1.628.4", "R. hip lifts 100°× 1.200.2"]);
    await page.press("R. hip");
    expect(roomNow().posing).toMatchObject({ joint: "r_hip", rotations: hip.rotations });
    await page.press("Back");
    expect(roomNow().posing).toBeNull();
  });

  test("it swings through them one after another until it is stopped", async () => {
    vi.useFakeTimers({ toFake: ["setInterval", "clearInterval"] });
    try {
      const { page } = await opened({}, {}, bent);
      await page.press("Bend");
      await page.press("Bend it");
      await settled();
      await page.press("Swing");
      const seen = [];
      for (let k = 0; k < 3; k++) {
        await act(async () => vi.advanceTimersByTime(700));
        seen.push(roomNow().posing?.joint);
      }
      expect(seen).toEqual(["l_knee", "r_hip", "l_knee"]);
      await page.press("Stop");
      await page.press("Back");
      await act(async () => vi.advanceTimersByTime(5000));
      expect(roomNow().posing).toBeNull();
    } finally {
      vi.useRealTimers();
    }
  });

  test("a test that failed says why, and the key that asks for it opens its tab", async () => {
    const refused = new Refusal(422, "it is not bound", "Oilskin coat", "Bind it first.");
    const { page } = await opened({}, {}, { "POST /api/pieces/7/bend-test": refused });
    await act(async () => roomNow().set({ bending: 1 }));
    await settled();
    expect(page.text()).toContain("Oilskin coat: it is not bound. Bind it first.");
  });
});

test("the closed step says how many joints bear the piece", () => {
  expect(binding.summary(aPiece({ report: { bind: REPORT } }))).toBe("24 joints · 4 max");
});
