// @vitest-environment jsdom
import { beforeEach, expect, test } from "vitest";
import { ReceivePanel } from "../../../src/bench/steps/receive/ReceivePanel";
import { fresh } from "../../../src/recipe/recipe";
import { house, Refusal } from "../../house";
import { settled, shown } from "../../shown";
import { aPiece, panelProps, received, room, said } from "../../world";

const SKIN = { name: "Ibbet", body: "", shape: {}, skin_mm: 6.4, inside: 0.021, joints_mm: null, warning: null };
const OTHER = {
  name: "Corvane",
  body: "",
  shape: { belly: 0.6 },
  skin_mm: 19,
  inside: 0.3,
  joints_mm: null,
  warning: "30 % lies in the skin",
};
const FLIPPED = { kind: "flipped", count: 40, text: "40 faces look inwards", mend: "turn them", mended: false };
const DOUBLE = { kind: "double", count: 3, text: "3 points lie on others", mend: "weld them", mended: true };
const OPEN = { kind: "open", count: 1, text: "A border is open under the arm", mend: null, mended: false };

beforeEach(() => room());

async function opened(piece = aPiece(), more: Record<string, unknown> = {}) {
  const server = house({ "GET /api/pieces/7/made-for": [SKIN, OTHER], ...more });
  const { props, kept } = panelProps(piece);
  const page = await shown(<ReceivePanel {...props} />);
  await settled();
  return { page, kept, server };
}

test("what was found out about the file is told in the shop's units, each with its reason", async () => {
  const { page } = await opened(
    aPiece({
      report: {
        receive: received({
          up: "z",
          hand: "left",
          facing: "back",
          joints: 12,
          morphs: ["a", "b"],
          clips: ["c"],
          symmetric: 0.9,
        }),
      },
    }),
  );
  for (const words of [
    "62.0 × 112.4 × 38.0 cm",
    "66 % of the stature",
    "7, largest 4100 of 4210 vertices",
    "oilskin, horn",
    "Z up, turned upright",
    "left-handed, mirrored, turned round",
    "weights of 12 joints, 2 morphs, 1 clips",
    "90 % alike",
    "Nothing wrong was found.",
  ])
    expect(page.text()).toContain(words);
});

test("a file that is still being read says so and offers its axes all the same", async () => {
  const { page, kept } = await opened(aPiece({ report: { receive: null } }));
  expect(page.text()).toContain("Looking at the file…");
  await page.choose("Unit", "mm");
  expect(kept).toEqual([{ step: { ...fresh("receive"), unit: "mm" }, label: "Set the unit" }]);
});

test.each([
  ["Up axis", "z", { up: "z" }, "Set the up axis"],
  ["Axes", "left", { hand: "left" }, "Set the axes"],
  ["Looks", "back", { facing: "back" }, "Turn it"],
])(
  "%s: what the artist says stands against what was found out, and the rest stays",
  async (name, value, change, label) => {
    const before = { ...fresh("receive"), unit: "cm" as const, mends: ["double"] };
    const { page, kept } = await opened(aPiece({ steps: [before] }));
    await page.choose(name, value);
    expect(kept).toEqual([{ step: { ...before, ...change }, label }]);
  },
);

test("each mend is taken or refused alone, and those made before stay", async () => {
  const piece = aPiece({ report: { receive: received({ findings: [FLIPPED, DOUBLE, OPEN] }) } });
  const { page, kept } = await opened(piece);
  expect([page.ticked("40 faces"), page.ticked("3 points")]).toEqual([false, true]);
  await page.tick("40 faces look inwards");
  await page.tick("3 points lie on others");
  await page.press("Mend all");
  expect(kept.map((k) => (k.step as { mends: unknown }).mends)).toEqual([["double", "flipped"], [], null]);
});

test("what no mend helps is told and has no box", async () => {
  const { page } = await opened(aPiece({ report: { receive: received({ findings: [OPEN] }) } }));
  expect(page.text()).toContain("A border is open under the arm · for you to see to");
  expect(page.has("[role=checkbox]", "A border")).toBe(false);
  expect(page.has("button", "Mend all")).toBe(false);
});

test("the nearest body is named with its figures, and the one chosen is kept with its shape", async () => {
  const { page, kept } = await opened();
  expect(page.text()).toContain("Nearest: Ibbet, 6 mm from the skin on the mean, 2 % under it.");
  await page.choose("Made for", "Corvane");
  expect(kept[0]?.step).toMatchObject({ made_for: { name: "Corvane", body: "", shape: { belly: 0.6 } } });
});

test("a body it was hardly made for is doubted in figures; unknown is an answer too", async () => {
  const chosen = { ...fresh("receive"), made_for: { name: "Corvane", body: "", shape: { belly: 0.6 } } };
  const { page, kept } = await opened(aPiece({ steps: [chosen] }));
  expect(page.text()).toContain("Hardly made for Corvane: 30 % lies in the skin.");
  await page.choose("Made for", "");
  expect(kept[0]?.step).toMatchObject({ made_for: null });
});

test("a body that is no longer there keeps its name in the list", async () => {
  const chosen = { ...fresh("receive"), made_for: { name: "Old mannequin", body: "cc", shape: {} } };
  const { page } = await opened(aPiece({ steps: [chosen] }));
  expect(await page.options("Made for")).toEqual(["not known", "Old mannequin", "Ibbet", "Corvane"]);
});

test("a skeleton that came along is compared by its joints", async () => {
  const { page } = await opened(aPiece(), { "GET /api/pieces/7/made-for": [{ ...SKIN, joints_mm: 3.7 }] });
  expect(page.text()).toContain("Nearest: Ibbet, its joints 4 mm apart on the mean.");
});

test("the category found is given with how sure it is, and another is sent to the server", async () => {
  const { page, server } = await opened(aPiece(), { "PATCH /api/pieces/7": {} });
  expect(page.text()).toContain("top");
  await page.choose("Category", "dress");
  expect(server.sent("PATCH /api/pieces/7")).toEqual([{ category: "dress" }]);
});

test("missing pictures are asked for by name, and those found again are told", async () => {
  const piece = aPiece({ report: { receive: received({ missing_textures: ["oilskin.png", "horn.png"] }) } });
  const { page, server } = await opened(piece, {
    "POST /api/pieces/7/textures": { linked: ["oilskin.png"], missing: ["horn.png"] },
  });
  expect(page.text()).toContain("Asks for oilskin.png, horn.png");
  await page.files("Texture files", [new File(["x"], "oilskin.png")]);
  await settled();
  const [sent] = server.sent("POST /api/pieces/7/textures") as FormData[];
  expect(sent?.getAll("files")).toEqual([expect.objectContaining({ name: "oilskin.png" })]);
  expect(said()).toEqual({ kind: "done", text: "Found again: oilskin.png." });
});

test("a piece from elsewhere can be kept in stock; a refusal is told in the server's words", async () => {
  const refused = new Refusal(409, "it is in stock already", "Oilskin coat", "Open it there.");
  const { page } = await opened(aPiece(), { "POST /api/stock/from-rail/7": refused });
  await page.press("Keep it in stock");
  await settled();
  expect(said()).toEqual({ kind: "problem", text: "Oilskin coat: it is in stock already. Open it there." });
});
