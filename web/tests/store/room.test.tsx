// @vitest-environment jsdom
import { act } from "react";
import { createRoot } from "react-dom/client";
import { beforeEach, describe, expect, it } from "vitest";
import { type Room, useRoom, useRoomOf } from "../../src/store/room";

const fresh = useRoom.getState();
const LOOK = {
  name: "place",
  eye: [0, 1, 2],
  at: [0, 1, 0],
  up: [0, 1, 0],
  angle: 0.5,
  width: 1,
  height: 1,
} as never as Room["look"];
beforeEach(() => useRoom.setState(fresh, true));

describe("where the artist looks", () => {
  it("is no longer a shot once the figure is turned, tipped or brought nearer", () => {
    for (const change of [{ yaw: 1 }, { pitch: 0.2 }, { zoom: 2 }]) {
      useRoom.setState({ shot: 3, look: LOOK });
      useRoom.getState().set(change);
      expect(useRoom.getState()).toMatchObject({ ...change, shot: null, look: null });
    }
    useRoom.setState({ shot: 3, look: LOOK, yaw: 1 });
    useRoom.getState().turn(0.5);
    expect(useRoom.getState()).toMatchObject({ yaw: 1.5, shot: null, look: null });
  });

  it("is a shot that is chosen together with a camera", () => {
    useRoom.getState().set({ yaw: 0, shot: 5 });
    expect(useRoom.getState()).toMatchObject({ yaw: 0, shot: 5 });
  });

  it("leaves a place that was looked at closely when another stands there", () => {
    for (const change of [{ wearer: 2 }, { pose: "sit" }, { shot: 1 }]) {
      useRoom.setState({ look: LOOK });
      useRoom.getState().set(change);
      expect(useRoom.getState().look).toBeNull();
    }
  });

  it("ends a motion that plays when another pose is taken or made, and by nothing else", () => {
    for (const change of [{ pose: "sit" }, { posing: null }]) {
      useRoom.setState({ motion: "walk" });
      useRoom.getState().set(change);
      expect(useRoom.getState().motion).toBeNull();
    }
    useRoom.setState({ motion: "walk" });
    useRoom.getState().set({ wearer: 4, piece: 2, map: "clearance" });
    expect(useRoom.getState().motion).toBe("walk");
  });
});

let drawn = 0;
function Named() {
  const { wearer, pose } = useRoomOf("wearer", "pose");
  drawn++;
  return <p>{`${wearer} ${pose}`}</p>;
}

it("a component is drawn anew for the fields it asks for alone", async () => {
  const page = document.body.appendChild(document.createElement("div"));
  const root = createRoot(page);
  await act(async () => root.render(<Named />));
  for (let k = 0; k < 20; k++) await act(async () => useRoom.getState().turn(0.1));
  expect(drawn).toBe(1);
  await act(async () => useRoom.getState().set({ wearer: 7, pose: "kneel" }));
  expect([drawn, page.textContent]).toEqual([2, "7 kneel"]);
  await act(async () => root.unmount());
  page.remove();
});
