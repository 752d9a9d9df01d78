/** The clear panel of a coat between what lies over and under it. */
import type { StepProps } from "../../../src/bench/step";
import clearing from "../../../src/bench/steps/clear";
import { fresh, type StepOf } from "../../../src/recipe/recipe";
import { house } from "../../house";
import { settled, shown } from "../../shown";
import {
  aFitting,
  aPiece,
  aPlace,
  aPose,
  aProduction,
  type aTrial,
  type Changes,
  figures,
  pair,
  panelProps,
} from "../../world";

export const BOUND = [fresh("receive"), fresh("fit"), fresh("bind")];
export const ROTATED = { l_hip: [0.6, 0, 0, 0.8] };
export const KNEE = pair("Oilskin coat", "Smock", -3.2, { area_cm2: 0.8, places: [aPlace("left knee", 3.2, 0.8)] });
export const TOES = pair("Oilskin coat", "Skin", -9.8, {
  area_cm2: 1.4,
  places: [aPlace("left toes", 9.8, 1.4), aPlace("Skin", 1.1)],
});

interface Set {
  piece?: Changes;
  pairs?: ReturnType<typeof pair>[] | null;
  trial?: ReturnType<typeof aTrial> | null;
  others?: Changes[];
  answers?: Record<string, unknown>;
  pose?: ReturnType<typeof aPose>;
}

/** The panel with the coat between what lies over and under it, in a pose in which these pairs show. */
export async function opened({
  piece,
  pairs = [KNEE, TOES],
  trial = null,
  others,
  answers,
  pose = aPose("kneel", "Kneeling", { rotations: ROTATED }),
}: Set = {}) {
  const coat = aPiece({ rail: 1, steps: BOUND, ...piece });
  const beside = others ?? [
    { id: 5, name: "Smock", rail: 0, geometry: "bb02", finished: "bb0f" },
    { id: 9, name: "Storm cape", rail: 2, geometry: "cc03" },
  ];
  const pieces = [coat, ...beside.map(aPiece)];
  const production = aProduction({ pieces, poses: [aPose("stand", "Standing"), pose] });
  const measured = pairs
    ? ({ figures: figures(pairs), frame: {} } as unknown as StepProps["fitting"]["measured"])
    : undefined;
  const fitting = aFitting(production, {
    pose,
    chosen: pose,
    measured,
    asked: { shape: { belly: 0.1 }, pose: "kneel", body: null },
  });
  const server = house({
    "GET /api/trials/latest": trial,
    "GET /api/plans/latest": null,
    "GET /api/waivers": [],
    ...answers,
  });
  const { props, kept } = panelProps(coat, { production, fitting });
  const page = await shown(<clearing.Panel {...props} />);
  await settled();
  return { page, kept, server, fitting, production, last: () => kept.at(-1)?.step as StepOf<"clear"> };
}
