import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";

/** Points a CSS pixel, each way, while something moves where the CPU draws the stage. */
const MOVING = 0.75;
const FINE = 1.5;
const STILL_MS = 450;

let points = MOVING;
/** How finely it is drawn now: who draws the page anew for some other reason leaves the stage as it is. */
export const finenessNow = () => points;

/**
 * Where the CPU draws the stage it is drawn coarsely while anything moves, and once more finely when all is still.
 */
export function AtRest() {
  const set = useThree((s) => s.setDpr);
  const state = useRef<"moving" | "asked" | "fine">("moving");
  const timer = useRef<number>(undefined);
  const draw = (fineness: number) => {
    points = fineness;
    set(fineness);
  };
  useEffect(
    () => () => {
      window.clearTimeout(timer.current);
      points = MOVING;
    },
    [],
  );
  useFrame(({ viewport }) => {
    if (state.current === "asked" && viewport.dpr === FINE) {
      state.current = "fine"; // this is the fine picture: it stands until something moves
      return;
    }
    if (state.current === "fine") draw(MOVING);
    state.current = "moving";
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => {
      state.current = "asked";
      draw(FINE);
    }, STILL_MS);
  });
  return null;
}
