// @vitest-environment jsdom
import { beforeEach, describe, expect, test } from "vitest";
import type { Fabric } from "../../../src/api/drape";
import { settled } from "../../shown";
import { room } from "../../world";

import { cloth, FABRICS, opened } from "./draping";

beforeEach(() => room());

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
