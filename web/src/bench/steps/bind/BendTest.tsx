import { useEffect, useRef, useState } from "react";
import { type Bend, useBendTest } from "../../../api/binding";
import type { Piece } from "../../../api/client";
import { item } from "../../../recipe/at";
import { useRoomOf } from "../../../store/room";
import { Button } from "../../../ui/controls";
import { TEXT } from "./texts";

/** Every joint near the piece swings through its range; the worst of each is listed, a click goes there. */
export function BendTest({ piece }: { piece: Piece }) {
  const { bending, posing, set } = useRoomOf("bending", "posing", "set");
  const test = useBendTest(piece, bending);
  const [playing, setPlaying] = useState(false);
  const back = () => {
    setPlaying(false);
    set({ posing: null });
  };
  const go = (bend: Bend) =>
    set({
      posing: { rotations: bend.rotations, joint: bend.joint, degrees: [], short: 0, past: [], next: [] },
      panel: null,
    });
  const latest = useRef({ go, list: test.data ?? [] });
  latest.current = { go, list: test.data ?? [] };
  useEffect(() => {
    if (!playing) return;
    let at = 0;
    const timer = window.setInterval(() => {
      const { list } = latest.current;
      if (list.length) latest.current.go(item(list, at++ % list.length));
    }, 700);
    return () => window.clearInterval(timer);
  }, [playing]);
  const here = (bend: Bend) =>
    posing?.joint === bend.joint && JSON.stringify(posing.rotations) === JSON.stringify(bend.rotations);
  return (
    <div>
      <div className="flex items-center gap-2">
        <Button
          look={test.data ? "plain" : "primary"}
          disabled={test.isFetching}
          onClick={() => set({ bending: bending + 1 })}
        >
          {test.isFetching ? TEXT.bending : test.data ? TEXT.bendAgain : TEXT.bendIt}
        </Button>
        {test.data && (
          <Button aria-pressed={playing} onClick={() => setPlaying(!playing)}>
            {playing ? TEXT.stop : TEXT.swing}
          </Button>
        )}
        {!test.data && <span className="whitespace-nowrap text-[11.5px] text-soft">{TEXT.orPressK}</span>}
        {posing && (
          <Button look="quiet" className="ml-auto px-1" onClick={() => back()}>
            {TEXT.back}
          </Button>
        )}
      </div>
      {test.isError && <p className="mt-1 text-amber">{test.error.message}</p>}
      {test.data && (
        <table className="mt-2 w-full text-[12.5px]">
          <thead>
            <tr className="text-left text-[11.5px] text-soft">
              <th className="font-normal">{TEXT.joint}</th>
              <th className="pl-2 text-right font-normal">{TEXT.stretch}</th>
              <th className="pl-2 text-right font-normal whitespace-nowrap">{TEXT.sunkMm}</th>
            </tr>
          </thead>
          <tbody>
            {test.data.slice(0, 40).map((bend) => (
              <tr key={`${bend.joint}${bend.swing}${bend.degrees}`} className={here(bend) ? "bg-heron/10" : ""}>
                <td className="w-full max-w-0">
                  <button
                    type="button"
                    className="w-full cursor-pointer truncate text-left first-letter:uppercase hover:text-heron"
                    onClick={() => go(bend)}
                  >
                    {bend.label.replace("left ", "L. ").replace("right ", "R. ")} {bend.swing} {bend.degrees.toFixed(0)}
                    °
                  </button>
                </td>
                <td className="pl-2 text-right whitespace-nowrap">× {bend.stretch.toFixed(2)}</td>
                <td className={`text-right ${bend.depth_mm > 0.5 ? "font-semibold text-coral" : "text-soft"}`}>
                  {bend.depth_mm.toFixed(1)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {!test.data && !test.isFetching && <p className="mt-1.5 text-soft">{TEXT.swingsEachJointNear}</p>}
    </div>
  );
}
