import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import type { PerspectiveCamera } from "three";
import { useRoom } from "../state/room";

export const MIDDLE = 0.86;

/** The camera goes round the figure: yaw 0 is the front. */
export function Camera() {
  const { camera, invalidate, size } = useThree();
  const { yaw, pitch, zoom } = useRoom();
  useEffect(() => {
    const lens = camera as PerspectiveCamera;
    lens.fov = 24;
    const away = 5.0 / zoom;
    const middle = MIDDLE + (zoom > 1 ? Math.min(zoom - 1, 1) * 0.25 : 0);
    lens.position.set(
      away * Math.sin(yaw) * Math.cos(pitch),
      middle + away * Math.sin(pitch),
      away * Math.cos(yaw) * Math.cos(pitch),
    );
    lens.lookAt(0, middle, 0);
    lens.aspect = size.width / Math.max(size.height, 1);
    lens.updateProjectionMatrix();
    invalidate();
  }, [camera, invalidate, yaw, pitch, zoom, size]);
  return null;
}
