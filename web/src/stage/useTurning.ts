import { type PointerEvent, useRef, type WheelEvent } from "react";
import { useRoom } from "../store/room";
import { MIDDLE } from "./Camera";
import { panned, zoomedAt } from "./framing";

type Box = { left: number; top: number; width: number; height: number };
/** Where a place of the page lies on the stage, in device coordinates: -1 to 1, up. */
const on = (box: Box, x: number, y: number): [number, number] => [
  ((x - box.left) / box.width) * 2 - 1,
  1 - ((y - box.top) / box.height) * 2,
];

/** What the pointer does to the camera: a drag turns the figure, with Shift or the other buttons it moves it, and the wheel comes near to
 * what is under it. */
export function useTurning() {
  const drag = useRef<{ x: number; y: number; moves: boolean } | null>(null);
  return {
    onContextMenu: (e: { preventDefault(): void }) => e.preventDefault(),
    onPointerDown: (e: PointerEvent) => {
      drag.current = { x: e.clientX, y: e.clientY, moves: e.button !== 0 || e.shiftKey };
    },
    onPointerMove: (e: PointerEvent) => {
      const from = drag.current;
      if (!from || e.buttons === 0) return;
      const { yaw, pitch, zoom, target, set } = useRoom.getState();
      if (from.moves) {
        const box = e.currentTarget.getBoundingClientRect();
        const [x, y] = on(box, e.clientX, e.clientY);
        const [fromX, fromY] = on(box, from.x, from.y);
        set(panned({ yaw, pitch, zoom, target }, [x - fromX, y - fromY], box.width / box.height, MIDDLE));
      } else
        set({
          yaw: yaw - (e.clientX - from.x) * 0.01,
          pitch: Math.max(-0.5, Math.min(1.2, pitch + (e.clientY - from.y) * 0.005)),
        });
      drag.current = { ...from, x: e.clientX, y: e.clientY };
    },
    onPointerUp: () => {
      drag.current = null;
    },
    onWheel: (e: WheelEvent) => {
      const { yaw, pitch, zoom, target, set } = useRoom.getState();
      const box = e.currentTarget.getBoundingClientRect();
      const at = on(box, e.clientX, e.clientY);
      set(zoomedAt({ yaw, pitch, zoom, target }, Math.exp(-e.deltaY * 0.001), at, box.width / box.height, MIDDLE));
    },
  };
}
