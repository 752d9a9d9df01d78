/** The trial sheet of two wearers in two poses. */
import type { Production, Trial } from "../../src/api/client";
import { TrialSheet } from "../../src/rooms/sheet/TrialSheet";
import { house } from "../house";
import { settled, shown } from "../shown";
import { aCell, aPlace, aPose, aProduction, aTrial, figures, pair } from "../world";

export const clean = figures([pair("Oilskin coat", "Smock", 2.1)]);
export const through = (area: number) =>
  figures(
    [
      pair("Oilskin coat", "Skin", -3, {
        area_cm2: area,
        places: [aPlace("left toes", 3, 2, { in_shots_cm2: 0 })],
        in_shots_cm2: 0,
      }),
    ],
    {
      in_shots_cm2: 0,
    },
  );
export const POSES = [aPose("stand", "Standing"), aPose("kneel", "Kneeling")];
export const production = aProduction({ poses: POSES, cast: aProduction().cast.slice(0, 2) });
export const TRIAL = aTrial(
  [aCell(1, "stand", clean), aCell(1, "kneel", through(0.5)), aCell(2, "stand", through(2)), aCell(2, "kneel", null)],
  { seconds: 4.2 },
);

export async function opened(
  to: { trial?: Trial | null; production?: Production; answers?: Record<string, unknown> } = {},
) {
  const server = house({
    "GET /api/trials/latest": to.trial === undefined ? TRIAL : to.trial,
    "GET /api/trials": [],
    "GET /api/plans/latest": null,
    "GET /api/waivers": [],
    "GET /api/pins": [],
    "GET /api/motions": [],
    ...to.answers,
  });
  const page = await shown(<TrialSheet production={to.production ?? production} />);
  await settled();
  const tiles = () =>
    [...page.page.querySelectorAll(".group > button:first-child")].map((b) => b.getAttribute("aria-label"));
  return { page, server, tiles };
}
