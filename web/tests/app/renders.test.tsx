// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { act, Profiler } from "react";
import { createRoot } from "react-dom/client";
import { afterEach, expect, test, vi } from "vitest";
import type { Piece, Production } from "../../src/api/client";
import { TopBar } from "../../src/app/TopBar";
import { Bench } from "../../src/bench/Bench";
import type { Falling } from "../../src/bench/steps/drape/useFalling";
import type { Fitting } from "../../src/bench/useFitting";
import { CastAxis, PoseAxis } from "../../src/rooms/fitting/Axes";
import { Rail } from "../../src/rooms/fitting/Rail";
import { useRoom } from "../../src/store/room";

const piece = {
  id: 7,
  name: "Oilskin coat",
  category: "top",
  author: "Artist",
  status: "done",
  recipe: { body: "", made_on: {}, steps: [{ kind: "receive" }, { kind: "fit", ease: 0.009 }] },
  report: { work: [], weigh: [], fix: [], clear: [], drape: [] },
  geometry: "aa",
} as unknown as Piece;
const production = {
  name: "The Reedmarsh Night Post",
  cast: [{ id: 1, name: "Ibbet", shape: {}, body: "", outfit: 1 }],
  outfits: [{ id: 1, name: "First outfit", pieces: 1, worn_by: [1], owners: [1] }],
  poses: [{ name: "stand", label: "Standing", family: "house", rotations: {} }],
  pieces: [piece],
  bodies: [],
  shapes: [],
  shots: [],
  motions: [],
} as unknown as Production;
const fitting = {
  rail: [piece],
  worn: [],
  wearer: production.cast[0],
  piece,
  shape: {},
  chosen: production.poses[0],
  names: new Map([[7, "Oilskin coat"]]),
  measured: undefined,
  bound: false,
} as unknown as Fitting;

afterEach(() => vi.unstubAllGlobals());

test("turning the figure draws no panel anew", async () => {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  vi.stubGlobal("fetch", () => new Promise(() => undefined)); // the server does not answer: what is drawn is what is given
  vi.stubGlobal("matchMedia", () => ({ matches: false, addEventListener: () => undefined }));
  const drawn = new Map<string, number>();
  const count = (id: string) => drawn.set(id, (drawn.get(id) ?? 0) + 1);
  const panels = {
    "top bar": <TopBar production={production} />,
    "cast axis": <CastAxis production={production} wearer={fitting.wearer} />,
    "pose axis": <PoseAxis production={production} pose={fitting.chosen} />,
    rail: <Rail production={production} fitting={fitting} />,
    bench: <Bench production={production} piece={piece} fitting={fitting} falling={{} as Falling} />,
  };
  const root = createRoot(document.createElement("div"));
  await act(async () =>
    root.render(
      <QueryClientProvider client={new QueryClient()}>
        <Tooltip.Provider>
          {Object.entries(panels).map(([id, panel]) => (
            <Profiler key={id} id={id} onRender={count}>
              {panel}
            </Profiler>
          ))}
        </Tooltip.Provider>
      </QueryClientProvider>,
    ),
  );
  expect([...drawn.keys()].sort()).toEqual(Object.keys(panels).sort());
  drawn.clear();
  for (let step = 0; step < 60; step++)
    await act(async () => useRoom.getState().set({ yaw: step / 10, pitch: step / 100 }));
  expect(Object.fromEntries(drawn)).toEqual({});
  await act(async () => useRoom.getState().set({ place: "table" }));
  expect(Object.fromEntries(drawn)).toEqual({ "top bar": 1 }); // the count counts
  await act(async () => root.unmount());
});
