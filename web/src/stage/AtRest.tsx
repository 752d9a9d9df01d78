import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";

const [MOVING, AT_REST] = [0.75, 1.5];
const STILL_MS = 450;

/**
 * Where the CPU draws the stage it is drawn coarsely while anything moves, and once more finely when all is still: points a CSS pixel,
 * each way.
 */
export function AtRest() {
  const setDpr = useThree((s) => s.setDpr);
  const state = useRef<"moving" | "asked" | "fine">("moving");
  const timer = useRef<number>(undefined);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  useFrame(() => {
    if (state.current === "asked") {
      state.current = "fine"; // this is the fine picture: it stands until something moves
      return;
    }
    if (state.current === "fine") {
      state.current = "moving";
      setDpr(MOVING);
    }
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => {
      state.current = "asked";
      setDpr(AT_REST);
    }, STILL_MS);
  });
  return null;
}
