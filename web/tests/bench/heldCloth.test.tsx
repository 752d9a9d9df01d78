// @vitest-environment jsdom
import { act } from "react";
import { expect, test } from "vitest";
import { HoldCloth, type Holding } from "../../src/bench/steps/drape/HoldCloth";
import { useRoom } from "../../src/store/room";
import { shown } from "../shown";

const none: Holding = { tacks: [], gathers: [], straps: [], stiff: [] };
const full = {
  tacks: [
    { at: 3, along: [], radius: 0.05, value: 1, to: "wearer" },
    { at: 8, along: [], radius: 0.1, value: 0.5, to: "under" },
  ],
  gathers: [{ at: 9, width: 0.04, factor: 0.75, string: false }],
  straps: [{ one: 1, other: 2, length: 0.12 }],
  stiff: [{ at: 5, along: [], radius: 0.08, times: 4 }],
} as unknown as Holding;

/** What the panel asks for, after something is done in it. */
async function after(held: Holding, work: (page: Awaited<ReturnType<typeof shown>>) => Promise<unknown>) {
  let asked: Holding | null = null;
  const page = await shown(
    <HoldCloth
      holding={held}
      onChange={(to) => {
        asked = to;
      }}
    />,
  );
  await work(page);
  await page.close();
  return asked as Holding | null;
}

test("each thing that holds the cloth says what it is in the units of the shop", async () => {
  const page = await shown(<HoldCloth holding={full} onChange={() => undefined} />);
  for (const words of ["5.0 cm", "fast", "50 % a frame", "75 %", "12 cm", "8 cm", "× 4.0"])
    expect(page.text()).toContain(words);
  await page.close();
});

test("a change is of the one row alone", async () => {
  const wider = await after(full, (page) => page.slide("Tack 2, about", 2));
  expect(wider?.tacks[0]).toEqual(full.tacks[0]);
  expect(wider?.tacks[1]?.radius).toBeCloseTo(0.105, 9); // each move starts from what the artist was shown
  expect({ ...wider, tacks: full.tacks }).toEqual(full);
  const stiffer = await after(full, (page) => page.slide("Stiff part 1, times", 1));
  expect(stiffer?.stiff[0]?.times).toBeCloseTo(4 * Math.SQRT2, 9);
});

test("what is taken out leaves the others as they were", async () => {
  const left = await after(full, (page) => page.press("Take Tack 1 out"));
  expect(left).toEqual({ ...full, tacks: [full.tacks[1]] });
  const free = await after(full, (page) => page.press("Take Strap 1 out"));
  expect(free).toEqual({ ...full, straps: [] });
});

test("a tack goes over to the air, a gather to a string", async () => {
  const air = await after(full, (page) => page.choose("Tack 1 to", "space"));
  expect(air?.tacks.map((t) => t.to)).toEqual(["space", "under"]);
  const string = await after(full, (page) => page.tick("drawn by a string"));
  expect(string?.gathers[0]?.string).toBe(true);
});

test("a strap takes two clicks on the piece, and nothing is made by the first", async () => {
  let asked: Holding | null = null;
  const page = await shown(
    <HoldCloth
      holding={none}
      onChange={(to) => {
        asked = to;
      }}
    />,
  );
  const click = (row: number) =>
    act(async () => {
      const { picking } = useRoom.getState();
      if (picking && "done" in picking) (picking.done as (at: { rows: number[] }) => void)({ rows: [row] });
    });
  await page.press("Strap");
  await click(40);
  expect(asked).toBeNull();
  await click(41);
  expect(asked).toEqual({ ...none, straps: [{ one: 40, other: 41, length: 0 }] });
  await page.close();
});
