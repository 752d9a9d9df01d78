import { standing, type Turned } from "./shotView";

type Point = [number, number, number];
/** A zoom below this shows the whole figure; the nearest is a hand's breadth. */
export const FARTHEST = 0.7;
export const NEAREST = 14;
/** How near a place is looked at that is pressed twice. */
export const ON_A_PLACE = 4;
/** How far from the middle of the ground the camera may look (metres), and how high. */
const AROUND = 1.2;
const HIGHEST = 2.3;
/** Half the height of the stage at a metre's distance. */
const HALF = Math.tan((12 * Math.PI) / 180);
const AWAY = 5;

const within = (x: number, low: number, high: number) => Math.max(low, Math.min(high, x));
const kept = ([x, y, z]: Point): Point => [
  within(x, -AROUND, AROUND),
  within(y, 0, HIGHEST),
  within(z, -AROUND, AROUND),
];

/** What lies in the plane the camera looks at, `right` and `up` of its middle as shares of half the stage's height. */
function inPlane(view: Turned, right: number, up: number, middle: number): Point {
  const { target } = standing(view, middle);
  const reach = (HALF * AWAY) / view.zoom;
  const { yaw, pitch } = view;
  const along: Point = [Math.cos(yaw), 0, -Math.sin(yaw)];
  const above: Point = [-Math.sin(yaw) * Math.sin(pitch), Math.cos(pitch), -Math.cos(yaw) * Math.sin(pitch)];
  return target.map((x, k) => x + reach * (right * (along[k] ?? 0) + up * (above[k] ?? 0))) as Point;
}

/** The view after coming near by a factor: what is at `at` (device coordinates) stays where it is on the stage. Back out, it is the whole. */
export function zoomedAt(view: Turned, factor: number, at: [number, number], aspect: number, middle: number) {
  const zoom = within(view.zoom * factor, FARTHEST, NEAREST);
  if (zoom <= 1) return { zoom, target: null };
  const held = inPlane(view, at[0] * aspect, at[1], middle);
  const { target } = standing(view, middle);
  return {
    zoom,
    target: kept(target.map((x, k) => (held[k] ?? 0) + (x - (held[k] ?? 0)) * (view.zoom / zoom)) as Point),
  };
}

/** The view moved by so much of the stage (device coordinates): what was under the pointer stays under it. */
export function panned(view: Turned, by: [number, number], aspect: number, middle: number) {
  return { zoom: view.zoom, target: kept(inPlane(view, -by[0] * aspect, -by[1], middle)) };
}
