import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";

/** Points a CSS pixel, each way, while something moves where the CPU draws the stage. */
export const MOVING = 0.75;
const FINE = 1.5;
const STILL_MS = 450;

/**
 * Where the CPU draws the stage it is drawn coarsely while anything moves, and once more finely when all is still.
 */
export function AtRest() {
  const setDpr = useThree((s) => s.setDpr);
  const state = useRef<"moving" | "asked" | "fine">("moving");
  const timer = useRef<number>(undefined);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  useFrame(({ viewport }) => {
    if (state.current === "asked" && viewport.dpr === FINE) {
      state.current = "fine"; // this is the fine picture: it stands until something moves
      return;
    }
    if (state.current === "fine") setDpr(MOVING);
    state.current = "moving";
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => {
      state.current = "asked";
      setDpr(FINE);
    }, STILL_MS);
  });
  return null;
}
