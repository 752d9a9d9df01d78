// @vitest-environment jsdom
import { beforeEach, expect, test } from "vitest";
import type { Fitting } from "../../../src/bench/useFitting";
import { OriginNote, OtherPieces } from "../../../src/rooms/fitting/OtherPieces";
import { house } from "../../house";
import { settled, shown } from "../../shown";
import { aPiece, aProduction, aWearer, room } from "../../world";

const OUTFITS = [
  { id: 1, name: "First outfit", pieces: 1, worn_by: [1], owners: [1] },
  { id: 2, name: "Rain", pieces: 1, worn_by: [2], owners: [2] },
];
const PIECES = [
  aPiece({ id: 7, name: "Oilskin coat" }),
  aPiece({ id: 8, name: "Cape", outfit: 2 }),
  aPiece({ id: 9, name: "Ferry smock", outfit: 2, recipe: { body: "xx" } }),
  aPiece({ id: 10, name: "Sash", outfit: 2, status: "waiting" }),
];

beforeEach(() => room());

test("pieces of other outfits are copied here, those made on other bodies brought over; what is not done is neither", async () => {
  const server = house({ "POST /api/pieces/8/copy": {}, "POST /api/pieces/9/over": {} });
  const fitting = { wearer: aWearer(1, "Ibbet") } as Fitting;
  const page = await shown(
    <OtherPieces production={aProduction({ outfits: OUTFITS, pieces: PIECES })} fitting={fitting} />,
  );
  expect(page.rows("summary")).toEqual(["1 piece in other outfits", "1 piece made on other bodies"]);
  expect(page.rows("li")).toEqual(["Cape in RainCopy here", "Ferry smock on the house's figureBring over"]);
  await page.press("Copy here");
  await page.press("Bring over");
  await settled();
  expect(server.sent("POST /api/pieces/8/copy")).toEqual([{ outfit: 1 }]);
  expect(server.sent("POST /api/pieces/9/over")).toEqual([{ wearer: 1 }]);
});

test("a copy says where it comes from, and offers what its origin has become only where it has changed", async () => {
  const server = house({ "POST /api/pieces/7/take-over": {} });
  const copy = { origin: "Oilskin coat", origin_outfit: "First outfit" };
  const page = await shown(<OriginNote piece={aPiece({ ...copy, origin_changed: false })} />);
  expect(page.text()).toBe("A copy of Oilskin coat in First outfit.");
  await page.render(<OriginNote piece={aPiece({ ...copy, origin_changed: true })} />);
  expect(page.text()).toContain("It has been changed since.");
  await page.press("Take over its steps");
  await settled();
  expect(server.sent("POST /api/pieces/7/take-over")).toHaveLength(1);
  await page.render(<OriginNote piece={aPiece()} />);
  expect(page.text()).toBe("");
});
