// @vitest-environment jsdom
import { beforeEach, describe, expect, test } from "vitest";
import type { Recipe } from "../../../src/api/client";
import finishing from "../../../src/bench/steps/finish";
import following from "../../../src/bench/steps/follow";
import { fresh } from "../../../src/recipe/recipe";
import { settled, shown } from "../../shown";
import { aPiece, type Changes, panelProps, room } from "../../world";

beforeEach(() => room());

describe("finish", () => {
  const NONE = { weld: 0, smooth: 0, finer: 0, thick: 0, side: "out", hem: 0, sharp: 0, off: [] } as NonNullable<
    Recipe["finish"]
  >;
  const opened = async (finish: Recipe["finish"], busy = false, more: Changes = {}) => {
    const { props, recipes } = panelProps(aPiece({ recipe: { finish }, ...more }), { busy });
    const page = await shown(<finishing.Panel {...props} />);
    return { page, recipes, last: () => recipes.at(-1)?.recipe.finish };
  };

  test.each([
    ["weld borders", { weld: 0.0005 }, "0.5 mm"],
    ["even the cloth out", { smooth: 0.3 }, "30 %"],
    ["finer faces", { finer: 1 }, "× 4"],
    ["give it thickness", { thick: 0.002 }, "2.0 mm"],
    ["fold sharply", { sharp: 0.7 }, "from 40°"],
  ])("%s: switched on it begins with the house's amount, in its unit", async (name, amount, words) => {
    const { page, last } = await opened(null);
    await page.tick(name);
    expect(last()).toEqual({ ...NONE, ...amount });
    await page.close();
    const kept = await opened({ ...NONE, ...amount });
    expect(kept.page.text()).toContain(words);
  });

  test("a part switched off keeps its amount for when it comes back", async () => {
    const thick = { ...NONE, thick: 0.004, hem: 0.02 };
    const { page, last } = await opened(thick);
    await page.tick("give it thickness");
    expect(last()).toEqual({ ...thick, off: ["thick"] });
    await page.close();
    const off = await opened({ ...thick, off: ["thick"] });
    await off.page.tick("give it thickness");
    expect(off.last()).toEqual(thick);
  });

  test("an amount is kept when the hand lets go; thickness has a side and a hem", async () => {
    const thick = { ...NONE, thick: 0.002 };
    const { page, last, recipes } = await opened(thick);
    await page.slide("Thick", 2);
    expect(last()).toMatchObject({ thick: 0.0025 }); // each step begins at what is kept
    await page.choose("Grows", "in");
    expect(last()).toMatchObject({ side: "in" });
    await page.slide("Hem", 1);
    expect(last()).toMatchObject({ hem: 0.0025 });
    expect(recipes.at(-1)?.label).toBe("Finish: the hem");
  });

  test("an amount that is undone is shown as it stands again", async () => {
    const { page, recipes } = await opened({ ...NONE, thick: 0.002, hem: 0.01 });
    await page.slide("Thick", 1);
    await page.slide("Hem", 1);
    expect(recipes).toHaveLength(2);
    const { props } = panelProps(aPiece({ recipe: { finish: { ...NONE, thick: 0.005, hem: 0.03 } } }));
    await page.render(<finishing.Panel {...props} />);
    expect(page.text()).toContain("5.0 mm");
    expect(page.text()).toContain("3.0 cm");
  });

  test("while a change is on its way another is not begun", async () => {
    const { page } = await opened(null, true);
    expect(page.page.querySelector("fieldset")?.disabled).toBe(true);
  });

  test("the report says what came of it", async () => {
    const report = { vertices: 12_000, triangles: 23_456, welded: 30, moved: 0.0013 };
    const { page } = await opened({ ...NONE, finer: 1 }, false, { report: { finish: report } });
    for (const words of ["12,000", "23,456", "30", "1.3 mm"]) expect(page.text()).toContain(words);
    expect(finishing.summary(aPiece({ report: { finish: report } }))).toBe("23,456 faces");
  });
});

describe("follow", () => {
  const REPORT = { shapes: 22, under: 0, own: 0, correctives: 4, short: 0, left: 0 };
  const opened = async (follow: typeof REPORT | null, step = fresh("follow")) => {
    const { props, kept } = panelProps(aPiece({ steps: [step], report: { follow } }));
    const page = await shown(<following.Panel {...props} />);
    await settled();
    return { page, kept };
  };

  test("before it is done it says what it will do", async () => {
    const { page } = await opened(null);
    expect(page.text()).toContain("Gives the piece every shape of the body");
  });

  test("afterwards it says what was carried, brought along, cleared and left", async () => {
    const { page } = await opened({ ...REPORT, under: 0.43, own: 3, short: 41, left: 2 });
    for (const words of ["22 shapes of the body, 3 of them brought along", "43 %", "41 → 2 vertices"])
      expect(page.text()).toContain(words);
    expect(following.summary(aPiece({ report: { follow: REPORT } }))).toBe("22 shapes");
  });

  test("clearing of shapes, alone and together, is switched on its own", async () => {
    const { page, kept } = await opened(REPORT);
    await page.tick("clear each shape at full strength");
    await page.tick("and two or three together");
    expect(kept).toEqual([
      { step: { ...fresh("follow"), clear: false }, label: "Shapes as they are" },
      { step: { ...fresh("follow"), pairs: false }, label: "Shapes alone" },
    ]);
  });
});
