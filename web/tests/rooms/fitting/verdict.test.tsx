// @vitest-environment jsdom
import { expect, test } from "vitest";
import { Verdict } from "../../../src/rooms/fitting/StageFurniture";
import { shown } from "../../shown";
import { aFitting, aPiece, aPlace, aProduction, figures, pair } from "../../world";

const COAT = aPiece({ rail: 1 });
const BASE = aPiece({ id: 4, name: "Base layer", rail: 0 });

/** What the title says of these pairs, with these pieces on the stage. */
async function told(pairs: ReturnType<typeof pair>[], on: (typeof COAT)[]): Promise<string> {
  const production = aProduction({ pieces: [COAT, BASE] });
  const worn = on.map((piece) => ({ piece, mesh: {} as never }));
  const names = new Map(on.map((p) => [p.id, p.name]));
  const measured = { figures: figures(pairs) } as never;
  const page = await shown(<Verdict fitting={aFitting(production, { worn, names, measured })} />);
  return page.text();
}

test("a cell that holds names its least clearance", async () => {
  expect(await told([pair("Oilskin coat", "Base layer", 2.3), pair("Base layer", "Skin", 1.4)], [COAT, BASE])).toBe(
    "Holds · least clearance 1.4 mm over Skin",
  );
});

test("a piece that is not on the stage yet is not spoken for", async () => {
  expect(await told([pair("Base layer", "Skin", 1.4)], [BASE])).toBe(
    "Holds · least clearance 1.4 mm over Skin · Oilskin coat: not measured yet",
  );
  const through = pair("Base layer", "Skin", -2, { places: [aPlace("hip", 2)] });
  expect(await told([through], [BASE])).toMatch(/^1 place shows through.*2\.0 mm.*Oilskin coat: not measured yet$/);
});
