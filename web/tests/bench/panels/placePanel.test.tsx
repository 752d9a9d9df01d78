// @vitest-environment jsdom
import { beforeEach, expect, test } from "vitest";
import placing from "../../../src/bench/steps/place";
import { PlacePanel } from "../../../src/bench/steps/place/PlacePanel";
import { fresh } from "../../../src/recipe/recipe";
import { house, Refusal } from "../../house";
import { picked, settled, shown } from "../../shown";
import { aPiece, panelProps, room, roomNow, said } from "../../world";

const LYING = { ...fresh("place"), move: [0.1, -0.02, 0] as [number, number, number], scale: 1.1 };
const MARKS = [
  { name: "crown", at: [0, 1.7, 0] },
  { name: "left wrist", at: [0.6, 0.9, 0] },
];

beforeEach(() => room());

async function opened(steps = [fresh("receive"), LYING], more: Record<string, unknown> = {}) {
  const server = house({ "GET /api/landmarks": MARKS, ...more });
  const { props, kept } = panelProps(aPiece({ steps }));
  const page = await shown(<PlacePanel {...props} wearer={3} />);
  await settled();
  return { page, kept, server };
}

test("where the piece lies is shown in centimetres, degrees and per cent", async () => {
  const { page } = await opened();
  expect(["Left, cm", "Up, cm", "Tip, °", "Size, %"].map(page.value)).toEqual(["10.0", "-2.0", "0.0", "110"]);
});

test.each([
  ["Up, cm", "4,5", { move: [0.1, 0.045, 0] }],
  ["Turn, °", "90", { turn: [0, Math.PI / 2, 0] }],
  ["Size, %", "95", { scale: 0.95 }],
  ["Depth, %", "120", { stretch: [1, 1, 1.2] }],
])("%s: what is typed is kept in metres and radians, the rest as it was", async (field, typed, change) => {
  const { page, kept } = await opened();
  await page.write(field, typed);
  expect(kept).toEqual([{ step: { ...LYING, ...change }, label: "Place" }]);
});

test.each([
  ["Size, %", "0"],
  ["Size, %", "-20"],
  ["Width, %", "1"],
  ["Up, cm", "a hand"],
])("%s: %s makes nothing of the piece, and is not kept", async (field, typed) => {
  const { page, kept } = await opened();
  await page.write(field, typed);
  expect(kept).toEqual([]);
});

test("the arrow keys step a field, Escape puts it back", async () => {
  const { page, kept } = await opened();
  await page.key("input", "Turn, °", "ArrowUp");
  expect(kept[0]?.step).toMatchObject({ turn: [0, expect.closeTo((5 * Math.PI) / 180, 12), 0] });
  await page.write("Left, cm", "33", "Escape");
  expect(page.value("Left, cm")).toBe("10.0");
  expect(kept).toHaveLength(1);
});

test("a proposal is kept as the server made it, and its reason told", async () => {
  const step = { ...LYING, move: [0, 0.3, 0] };
  const { page, kept, server } = await opened(undefined, {
    "POST /api/pieces/7/place": { step, why: "a top hangs from the shoulders" },
  });
  await page.press("Propose");
  await settled();
  expect(server.sent("POST /api/pieces/7/place")).toEqual([{ how: "propose", landmark: "" }]);
  expect(kept).toEqual([{ step, label: "Place where it is worn" }]);
  expect(said()).toEqual({ kind: "done", text: "Placed: a top hangs from the shoulders." });
});

test("what cannot be placed is told and the piece stays where it was", async () => {
  const { page, kept } = await opened(undefined, {
    "POST /api/pieces/7/place": new Refusal(422, "nothing lies under it", "Oilskin coat", "Move it over the body."),
  });
  await page.press("Drop");
  await settled();
  expect(kept).toEqual([]);
  expect(said()).toEqual({ kind: "problem", text: "Oilskin coat: nothing lies under it. Move it over the body." });
});

test("a point that is clicked snaps to the landmark that was chosen when the click was asked for", async () => {
  const { page, server } = await opened(undefined, { "POST /api/pieces/7/place": { step: LYING, why: "snapped" } });
  await page.choose("Landmark", "left wrist");
  await page.press("Snap to it");
  expect(page.text()).toContain("Click the piece…");
  expect(roomNow().picking).toMatchObject({ kind: "snap", landmark: "left wrist" });
  await picked([88, 89], [[0, 1, 0]]);
  await settled();
  expect(server.sent("POST /api/pieces/7/place")).toEqual([{ how: "snap", row: 88, landmark: "left wrist" }]);
});

test("mirrored goes both ways, and a reset puts all back", async () => {
  const { page, kept } = await opened([fresh("receive"), { ...LYING, mirror: true }]);
  await page.press("Mirror");
  await page.press("Reset");
  expect(kept.map((k) => k.step)).toEqual([{ ...LYING, mirror: false }, fresh("place")]);
});

test("the closed step says how far the piece was moved and sized", () => {
  expect(placing.summary(aPiece({ steps: [LYING] }))).toBe("10.2 cm, × 1.10");
  expect(placing.summary(aPiece({ steps: [fresh("place")] }))).toBe("as it came");
});
