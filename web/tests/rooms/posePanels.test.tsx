// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { PosePanel } from "../../src/rooms/figure/PosePanel";
import { PosingPanel, spoken } from "../../src/rooms/figure/PosingPanel";
import { useRoom } from "../../src/store/room";
import { house } from "../house";
import { settled, shown } from "../shown";
import { aPose, aProduction, aWearer, room, roomNow } from "../world";

function Posing() {
  const posing = useRoom((r) => r.posing);
  return posing && <PosingPanel posing={posing} />;
}

beforeEach(() => room());
afterEach(() => vi.unstubAllGlobals());

describe("the pose library", () => {
  const LIBRARY = [
    { name: "stand", label: "Standing", family: "house" },
    { name: "reach", label: "Reaching up", family: "work" },
    { name: "mine", label: "On the hook", family: "own" },
  ];
  const opened = async (answers: Record<string, unknown> = {}, wearer = aWearer(1, "Ibbet")) => {
    const server = house({
      "GET /api/poses": LIBRARY,
      "GET /api/motions": [{ name: "row", label: "Rowing", seconds: 3.17 }],
      ...answers,
    });
    const page = await shown(<PosePanel production={aProduction()} wearer={wearer} />);
    await settled();
    return { page, server };
  };

  test("a pose on the axis is gone to; another joins it first", async () => {
    const { page, server } = await opened({ "POST /api/poses": {} });
    await page.press("Standing");
    expect(roomNow().pose).toBe("stand");
    expect(server.sent("POST /api/poses")).toEqual([]);
    await page.press("Reaching up");
    await settled();
    expect(server.sent("POST /api/poses")).toEqual([{ name: "reach" }]);
    expect(roomNow().pose).toBe("reach");
  });

  test("one is taken off the axis, one's own forgotten", async () => {
    const { page, server } = await opened({
      "DELETE /api/poses/stand": undefined,
      "DELETE /api/poses/own/mine": undefined,
    });
    await page.press("Take Standing off the axis");
    await page.press("Forget On the hook");
    await settled();
    expect(server.asked.filter((a) => a.method === "DELETE").map((a) => a.path)).toEqual([
      "/api/poses/stand",
      "/api/poses/own/mine",
    ]);
  });

  test("a motion plays and stops by the same press", async () => {
    const { page } = await opened();
    await page.press("Rowing3.2 s");
    expect(roomNow().motion).toBe("row");
    await page.press("Rowing3.2 s");
    expect(roomNow().motion).toBeNull();
  });

  test("posing by hand begins at this pose; a body of other joints has none", async () => {
    const { page } = await opened();
    await page.press("Pose by hand");
    expect(roomNow().posing).toMatchObject({ rotations: {}, past: [], next: [] });
    await page.close();
    expect((await opened({}, aWearer(1, "Stilt walker", { body: "xx" }))).page.has("button", "Pose by hand")).toBe(
      false,
    );
  });
});

describe("a pose made by hand", () => {
  const JOINTS = [
    { name: "l_knee", handle: true, swings: [{ name: "bend", low: -5, high: 150 }] },
    { name: "l_talocrural", handle: true, swings: [] },
  ];
  const TURNED = { rotations: { l_knee: [0.5, 0, 0, 0.86] }, degrees: [60], short: 0 };
  const opened = async (posing: object = {}, answers: Record<string, unknown> = {}) => {
    room({ posing: { rotations: {}, joint: null, degrees: [], short: 0, past: [], next: [], ...posing } });
    const server = house({ "GET /api/poses/joints": JOINTS, "POST /api/poses/turn": TURNED, ...answers });
    const page = await shown(<Posing />);
    await settled();
    return { page, server };
  };

  test("a joint that is chosen tells its swings within their range, and turns", async () => {
    const { page, server } = await opened();
    expect(await page.options("Joint")).toEqual(["Choose, or pick a bead", "Left knee"]);
    await page.choose("Joint", "l_knee");
    await settled();
    const slider = page.named("[role=slider]", "Bend");
    expect([
      slider.getAttribute("aria-valuemin"),
      slider.getAttribute("aria-valuenow"),
      slider.getAttribute("aria-valuemax"),
    ]).toEqual(["-5", "60", "150"]);
    await page.slide("Bend", 1);
    await settled();
    expect(server.sent("POST /api/poses/turn").at(-1)).toMatchObject({ joint: "l_knee", degrees: [61] });
  });

  test("each move is one step back, and forward again", async () => {
    const { page } = await opened({ joint: "l_knee", degrees: [60], rotations: { l_knee: [0.1, 0, 0, 1] } });
    await page.slide("Bend", 1);
    await page.slide("Bend", 1);
    await settled();
    expect(roomNow().posing?.past).toHaveLength(2);
    await page.press("Undo pose");
    await page.press("Undo pose");
    expect(roomNow().posing?.rotations).toEqual({ l_knee: [0.1, 0, 0, 1] });
    expect(page.disabled("Undo pose")).toBe(true);
    await page.press("Redo pose");
    await page.press("Redo pose");
    expect(roomNow().posing?.rotations).toEqual(TURNED.rotations);
  });

  test("it is mirrored, or one side copied to the other", async () => {
    const { page, server } = await opened({}, { "POST /api/poses/side": { rotations: {}, degrees: [], short: 0 } });
    for (const name of ["Mirror", "Copy left", "Copy right"]) {
      await page.press(name);
      await settled();
    }
    expect(server.sent("POST /api/poses/side").map((b) => (b as { act: string }).act)).toEqual([
      "mirror",
      "copy l",
      "copy r",
    ]);
  });

  test("a bead that cannot be reached says by how much", async () => {
    const { page } = await opened({ joint: "l_talocrural", short: 0.083 });
    expect(page.text()).toContain("Left ankle cannot go further: 8 cm short.");
    expect(page.text()).toContain("Left ankle goes where its bead is dragged.");
  });

  test("it is kept under a name and stands on the axis", async () => {
    const { page, server } = await opened(
      { rotations: { l_knee: [1, 0, 0, 0] } },
      { "POST /api/poses/own": aPose("own-1", "Lantern on the hook", { family: "own" }) },
    );
    expect(page.disabled("Keep")).toBe(true);
    await page.write("Name", " Lantern on the hook ", null);
    await page.press("Keep");
    await settled();
    expect(server.sent("POST /api/poses/own")).toEqual([
      { label: "Lantern on the hook", rotations: { l_knee: [1, 0, 0, 0] } },
    ]);
    expect(roomNow()).toMatchObject({ posing: null, pose: "own-1" });
  });

  test.each([
    ["l_radiocarpal", "Left wrist"],
    ["r_shoulder_twist", "Right upper arm roll"],
    ["vl3", "Small of the back"],
    ["r_metacarpophalangeal_2", "Right knuckle of the index finger"],
    ["l_carpal_distal_interphalangeal_5", "Left end of the little finger"],
    ["l_carpometacarpal_1", "Left root of the thumb"],
    ["skullbase", "Head"],
  ])("%s is called %s", (joint, words) => {
    expect(spoken(joint)).toBe(words);
  });
});
