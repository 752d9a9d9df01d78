// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, expect, test, vi } from "vitest";
import type { Move } from "../../src/api/posing";
import { shown } from "../shown";

interface Asked {
  path: string;
  body: Record<string, unknown>;
  answer: (degrees: number) => void;
  fail: (why: string) => void;
}
const asked: Asked[] = [];

vi.mock("../../src/api/client", async (real) => ({
  ...(await real<object>()),
  api: {
    POST: (path: string, { body }: { body: Record<string, unknown> }) =>
      new Promise((done, fail) => {
        const answer = (degrees: number) =>
          done({ data: { rotations: { l_elbow: [1, 0, 0, degrees] }, degrees: [degrees], short: 0 } });
        asked.push({ path, body, answer, fail: (why) => fail(new Error(why)) });
      }),
  },
}));
const { markPosing, stepPosing, usePosingMove } = await import("../../src/api/posing");
const { useRoom } = await import("../../src/store/room");

const at = (degrees: number) => ({ l_elbow: [1, 0, 0, degrees] });
const turn = (degrees: number): Move => ({ kind: "turn", joint: "l_elbow", degrees: [degrees] });
const posing = () => useRoom.getState().posing;
let move: ReturnType<typeof usePosingMove>;

function Hand() {
  move = usePosingMove();
  return null;
}

beforeEach(() => {
  asked.length = 0;
  useRoom.setState({
    posing: { rotations: at(0), joint: null, degrees: [], short: 0, past: [], next: [] },
    saying: null,
  });
});

test("one question is under way at a time, and of those that wait only the newest is asked", async () => {
  const page = await shown(<Hand />);
  const moves = [1, 2, 3, 4].map((degrees) => move(turn(degrees)));
  expect(asked.map((a) => a.body.degrees)).toEqual([[1]]);
  await act(async () => asked[0]?.answer(1));
  expect(asked.map((a) => a.body.degrees)).toEqual([[1], [4]]);
  expect(asked[1]?.body.rotations).toEqual(at(1)); // from where the first has put it
  await act(async () => asked[1]?.answer(4));
  await Promise.all(moves);
  expect(posing()).toMatchObject({ rotations: at(4), joint: "l_elbow", degrees: [4] });
  await page.close();
});

test("a drag starts from the pose before it, whatever has come back meanwhile", async () => {
  const page = await shown(<Hand />);
  const first = move(turn(1), at(0));
  const second = move(turn(2), at(0));
  await act(async () => asked[0]?.answer(1));
  expect(asked[1]?.body.rotations).toEqual(at(0));
  await act(async () => asked[1]?.answer(2));
  await Promise.all([first, second]);
  await page.close();
});

test("a question that fails is told, leaves the pose, and the next is asked", async () => {
  const page = await shown(<Hand />);
  const done = move(turn(1));
  await act(async () => {
    asked[0]?.fail("the elbow does not bend that far");
    await done;
  });
  expect(useRoom.getState().saying).toEqual({ kind: "problem", text: "the elbow does not bend that far" });
  expect(posing()?.rotations).toEqual(at(0));
  const again = move({ kind: "side", act: "mirror" });
  await act(async () => asked[1]?.answer(7));
  await again;
  expect(asked[1]?.path).toBe("/api/poses/side");
  expect(posing()).toMatchObject({ rotations: at(7), joint: null });
  await page.close();
});

test("an answer that comes when posing is over changes nothing", async () => {
  const page = await shown(<Hand />);
  const done = move(turn(1));
  useRoom.setState({ posing: null });
  await act(async () => asked[0]?.answer(1));
  await done;
  expect(posing()).toBeNull();
  await page.close();
});

test("steps of posing are taken back and done again, and a new one ends what could be done again", () => {
  const put = (degrees: number) => {
    markPosing();
    const now = posing();
    if (now) useRoom.setState({ posing: { ...now, rotations: at(degrees) } });
  };
  put(1);
  put(2);
  stepPosing(true);
  stepPosing(true);
  stepPosing(true); // there is nothing before the first
  expect(posing()?.rotations).toEqual(at(0));
  stepPosing(false);
  expect(posing()?.rotations).toEqual(at(1));
  put(5);
  stepPosing(false);
  expect(posing()?.rotations).toEqual(at(5));
  stepPosing(true);
  expect(posing()?.rotations).toEqual(at(1));
});

test("no more steps are kept than anyone takes back", () => {
  for (let k = 0; k < 200; k++) markPosing();
  expect(posing()?.past.length).toBe(61);
});
