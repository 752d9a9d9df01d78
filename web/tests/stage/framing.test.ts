import { PerspectiveCamera, Vector3 } from "three";
import { expect, test } from "vitest";
import { FARTHEST, NEAREST, panned, zoomedAt } from "../../src/stage/framing";
import { standing, type Turned } from "../../src/stage/shotView";

const MIDDLE = 0.86;
const ASPECT = 1.6;

/** The stage's camera, by the other library's own projection. */
function cameraOf(view: Turned): PerspectiveCamera {
  const camera = new PerspectiveCamera(24, ASPECT, 0.1, 20);
  const { eye, target } = standing(view, MIDDLE);
  camera.position.set(...eye);
  camera.lookAt(...target);
  camera.updateMatrixWorld();
  return camera;
}

/** What lies under the pointer at the distance that the camera looks at. */
function under(view: Turned, at: [number, number]): Vector3 {
  const camera = cameraOf(view);
  const { eye, target } = standing(view, MIDDLE);
  const away = new Vector3(...eye).distanceTo(new Vector3(...target));
  const ray = new Vector3(at[0], at[1], 0.5).unproject(camera).sub(camera.position).normalize();
  const ahead = camera.getWorldDirection(new Vector3());
  return camera.position.clone().addScaledVector(ray, away / ray.dot(ahead));
}

const VIEWS: Turned[] = [
  { yaw: 0, pitch: 0, zoom: 1.2, target: null },
  { yaw: 0.9, pitch: 0.3, zoom: 2, target: [0.1, 1.2, 0.05] },
  { yaw: -2.4, pitch: -0.2, zoom: 3, target: [0, 0.9, 0] },
];

test.each(VIEWS)("what is under the pointer stays under it when one comes near", (view) => {
  for (const at of [
    [0, 0],
    [0.3, 0.2],
    [-0.25, -0.3],
  ] as [number, number][]) {
    const held = under(view, at);
    const near = { ...view, ...zoomedAt(view, 1.5, at, ASPECT, MIDDLE) };
    const seen = held.clone().project(cameraOf(near));
    expect(seen.x).toBeCloseTo(at[0], 5);
    expect(seen.y).toBeCloseTo(at[1], 5);
  }
});

test.each(VIEWS)("what is held stays under the pointer when the view is moved", (view) => {
  const held = under(view, [0.1, 0.1]);
  const moved = { ...view, ...panned(view, [0.05, -0.04], ASPECT, MIDDLE) };
  const seen = held.clone().project(cameraOf(moved));
  expect(seen.x).toBeCloseTo(0.15, 5);
  expect(seen.y).toBeCloseTo(0.06, 5);
});

test("one comes no nearer than a hand, goes no farther than the figure, and sees the whole when back out", () => {
  const view: Turned = { yaw: 0, pitch: 0, zoom: 4, target: [0.2, 1.5, 0] };
  expect(zoomedAt(view, 100, [0, 0], ASPECT, MIDDLE).zoom).toBe(NEAREST);
  expect(zoomedAt(view, 0.01, [0, 0], ASPECT, MIDDLE)).toEqual({ zoom: FARTHEST, target: null });
});

test("the camera does not lose the figure", () => {
  const view: Turned = { yaw: 0, pitch: 0, zoom: 2, target: null };
  const { target } = panned(view, [-40, 40], ASPECT, MIDDLE);
  expect(target.every((x) => Math.abs(x) <= 2.3)).toBe(true);
});
