import type { PerspectiveCamera } from "three";
import type { components } from "../api/schema";
import { item } from "../recipe/at";
import { TEXT } from "./texts";

type Camera = components["schemas"]["Shot"];

/** How much of the stage's height or width the picture of a shot takes. */
const SHARE = 0.86;
/** How near a place is looked at (metres). */
const CLOSE = 1.1;
const LENS = (24 * Math.PI) / 180;
const round = (x: number) => Math.round(x * 1e4) / 1e4;

export interface Turned {
  yaw: number;
  pitch: number;
  zoom: number;
  /** What the camera looks at and goes round; the middle of the figure where it is none. */
  target?: [number, number, number] | null;
}

/** Where the stage's own camera stands and looks: yaw 0 is the front, a zoom above 1 comes near. */
export function standing({ yaw, pitch, zoom, target }: Turned, middle: number) {
  const away = 5.0 / zoom;
  const [x, y, z] = target ?? [0, middle + (zoom > 1 ? Math.min(zoom - 1, 1) * 0.25 : 0), 0];
  return {
    eye: [
      x + away * Math.sin(yaw) * Math.cos(pitch),
      y + away * Math.sin(pitch),
      z + away * Math.cos(yaw) * Math.cos(pitch),
    ] as [number, number, number],
    target: [x, y, z] as [number, number, number],
  };
}

/** The view on the stage as a shot. */
export function shotFrom(turned: Turned, middle: number, name: string): Camera {
  const { eye, target } = standing(turned, middle);
  return {
    name,
    eye: eye.map(round) as [number, number, number],
    target,
    up: [0, 1, 0],
    lens: round(LENS),
    frame: round(16 / 9),
  };
}

/** A place looked at closely from a side it is seen from. */
export function closeOn(centre: number[], along: number[]): Camera {
  const size = Math.hypot(...along) || 1;
  const way = along.map((x) => x / size);
  const steep = Math.abs(item(way, 1)) > 0.95;
  return {
    name: TEXT.close,
    eye: centre.map((x, k) => x + CLOSE * item(way, k)) as [number, number, number],
    target: centre as [number, number, number],
    up: steep ? [0, 0, 1] : [0, 1, 0],
    lens: LENS,
    frame: 1,
  };
}

/** Sets the camera so that the picture of a shot fills most of the stage. */
export function lookThrough(camera: PerspectiveCamera, shot: Camera, aspect: number) {
  camera.up.set(...(shot.up ?? [0, 1, 0]));
  camera.position.set(...shot.eye);
  camera.lookAt(...shot.target);
  const half = Math.tan(shot.lens / 2) / shareOf(shot.frame ?? 16 / 9, aspect).high;
  camera.fov = (360 / Math.PI) * Math.atan(half);
}

/** The share of the stage's width and height that the picture of a shot takes. */
export function shareOf(frame: number, aspect: number): { wide: number; high: number } {
  return frame < aspect
    ? { wide: (SHARE * frame) / aspect, high: SHARE }
    : { wide: SHARE, high: (SHARE * aspect) / frame };
}
