// @vitest-environment jsdom
import { expect, test, vi } from "vitest";
import type { Production } from "../../src/api/client";
import { useFitting } from "../../src/bench/useFitting";
import { fresh } from "../../src/recipe/recipe";
import { house } from "../house";
import { settled, shown } from "../shown";
import { aPiece, aProduction, room } from "../world";

vi.mock("../../src/stage/mesh/piece", () => ({ fetchPiece: async (sha: string) => ({ bound: sha !== "received" }) }));
vi.mock("../../src/stage/mesh/figure", () => ({ fetchFigure: async () => null }));

const POSED = [{ name: "kneel", label: "Kneeling", family: "house", rotations: {} }];

function Stage({ production }: { production: Production }) {
  return <p>{useFitting(production).pose?.label ?? "at rest"}</p>;
}

/** The pose on the stage while a piece of this geometry is shown there, and its recipe says this. */
async function posedWith(geometry: string, steps: ReturnType<typeof fresh>[]): Promise<string> {
  house({});
  room({ pose: "kneel" });
  const production = aProduction({ pieces: [aPiece({ geometry, steps, status: "waiting" })], poses: POSED as never });
  const page = await shown(<Stage production={production} />);
  await settled();
  return page.text();
}

test("the stage rests while what is shown has no weights, though the recipe is ahead of it", async () => {
  expect(await posedWith("received", [fresh("receive"), fresh("fit"), fresh("bind")])).toBe("at rest");
});

test("and stands in the pose while what is shown has weights, though a step of it is worked out anew", async () => {
  expect(await posedWith("worn", [fresh("receive"), fresh("fit")])).toBe("Kneeling");
});
