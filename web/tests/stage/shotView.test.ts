import { PerspectiveCamera, Vector3 } from "three";
import { describe, expect, it } from "vitest";
import { closeOn, lookThrough, shareOf, shotFrom, standing } from "../../src/stage/shotView";

/** Where a camera draws a place: -1 to 1 across and up. */
function drawn(camera: PerspectiveCamera, place: number[]): Vector3 {
  camera.updateProjectionMatrix();
  camera.updateMatrixWorld(true);
  return new Vector3(...place).project(camera);
}

describe("the stage's own camera", () => {
  it("stands in front at no turn, at the side at a quarter, and looks at the middle", () => {
    expect(standing({ yaw: 0, pitch: 0, zoom: 1 }, 0.9).eye).toEqual([0, 0.9, 5]);
    const side = standing({ yaw: Math.PI / 2, pitch: 0, zoom: 1 }, 0.9).eye;
    expect(side[0]).toBeCloseTo(5);
    expect(side[2]).toBeCloseTo(0);
  });

  it("comes nearer as it zooms, and stays as far from what it looks at whichever way it is tilted", () => {
    for (const zoom of [0.5, 1, 3])
      for (const pitch of [-0.3, 0, 0.7]) {
        const { eye, target } = standing({ yaw: 0.4, pitch, zoom }, 0.9);
        expect(Math.hypot(...eye.map((x, k) => x - (target[k] ?? 0)))).toBeCloseTo(5 / zoom, 6);
      }
  });
});

describe("a shot looked through", () => {
  const shot = shotFrom({ yaw: 0.6, pitch: 0.2, zoom: 1.5 }, 0.95, "Jetty");

  it("has what it looks at in the middle of the picture", () => {
    const camera = new PerspectiveCamera(24, 1.6);
    lookThrough(camera, shot, 1.6);
    const middle = drawn(camera, shot.target);
    expect(middle.x).toBeCloseTo(0, 5);
    expect(middle.y).toBeCloseTo(0, 5);
  });

  it("draws the edge of its picture where the frame is shown, on wide stages and on tall ones", () => {
    for (const aspect of [0.7, 1.4, 2.4]) {
      const camera = new PerspectiveCamera(24, aspect);
      camera.aspect = aspect;
      lookThrough(camera, shot, aspect);
      const share = shareOf(shot.frame ?? 16 / 9, aspect);
      const away = new Vector3(...shot.target).sub(new Vector3(...shot.eye));
      const side = away
        .clone()
        .normalize()
        .cross(new Vector3(0, 1, 0))
        .normalize();
      const up = side.clone().cross(away.clone().normalize());
      const high = away.length() * Math.tan(shot.lens / 2);
      const top = new Vector3(...shot.target).addScaledVector(up, high);
      const right = new Vector3(...shot.target).addScaledVector(side, high * (shot.frame ?? 16 / 9));
      expect(drawn(camera, top.toArray()).y).toBeCloseTo(share.high, 4);
      expect(drawn(camera, right.toArray()).x).toBeCloseTo(share.wide, 4);
      expect(Math.max(share.high, share.wide)).toBeCloseTo(0.86, 6);
    }
  });
});

describe("a place looked at closely", () => {
  it("is seen from the side it is told to be seen from, from 1.1 m", () => {
    for (const along of [
      [0, 0, 1],
      [0.3, 0.4, -0.2],
      [0, 1, 0],
      [0, -1, 0.01],
    ]) {
      const shot = closeOn([0.1, 1.2, 0.05], along);
      const way = new Vector3(...shot.eye).sub(new Vector3(0.1, 1.2, 0.05));
      expect(way.length()).toBeCloseTo(1.1, 6);
      expect(way.normalize().dot(new Vector3(...along).normalize())).toBeCloseTo(1, 6);
      const camera = new PerspectiveCamera();
      lookThrough(camera, shot, 1);
      expect(drawn(camera, shot.target).toArray().every(Number.isFinite)).toBe(true);
    }
  });
});
