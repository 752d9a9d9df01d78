import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import type { PerspectiveCamera } from "three";
import type { components } from "../api/schema";
import { useRoomOf } from "../store/room";
import { lookThrough, standing } from "./shotView";

export const MIDDLE = 0.86;

/** The camera goes round the figure, yaw 0 is the front; or it stands where a shot has it. */
export function Camera({ shot }: { shot?: components["schemas"]["Shot"] | null }) {
  const { camera, invalidate, size } = useThree();
  const { yaw, pitch, zoom, target: at } = useRoomOf("yaw", "pitch", "zoom", "target");
  useEffect(() => {
    const lens = camera as PerspectiveCamera;
    lens.aspect = size.width / Math.max(size.height, 1);
    if (shot) lookThrough(lens, shot, lens.aspect);
    else {
      const { eye, target } = standing({ yaw, pitch, zoom, target: at }, MIDDLE);
      lens.fov = 24;
      lens.up.set(0, 1, 0);
      lens.position.set(...eye);
      lens.lookAt(...target);
    }
    lens.updateProjectionMatrix();
    invalidate();
  }, [camera, invalidate, yaw, pitch, zoom, at, size, shot]);
  return null;
}
