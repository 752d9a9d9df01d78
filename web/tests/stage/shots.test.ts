import { PerspectiveCamera, Vector3 } from "three";
import { describe, expect, it } from "vitest";
import { closeOn, lookThrough, shareOf, shotFrom, standing } from "../../src/stage/shotView";

describe("a shot of the stage", () => {
  it("looks at the wearer's middle from the front, the side and above", () => {
    const eye = (yaw: number, pitch: number) => standing({ yaw, pitch, zoom: 1 }, 0.9).eye;
    expect(eye(0, 0)).toEqual([0, 0.9, 5]);
    expect(eye(Math.PI / 2, 0)[0]).toBeCloseTo(5);
    expect(eye(0, Math.PI / 2)[1]).toBeCloseTo(5.9);
  });

  it("fills most of the stage whether the stage is wider or higher than its picture", () => {
    for (const aspect of [0.6, 1, 16 / 9, 2.4]) {
      const shot = shotFrom({ yaw: 0.4, pitch: 0.1, zoom: 1.3 }, 0.9, "Wide");
      const camera = new PerspectiveCamera(50, aspect);
      lookThrough(camera, shot, aspect);
      camera.updateProjectionMatrix();
      camera.updateMatrixWorld(true);
      const far = new Vector3(...shot.eye).distanceTo(new Vector3(...shot.target));
      const half = far * Math.tan(shot.lens / 2);
      const top = new Vector3(...shot.target)
        .add(new Vector3(0, half, 0).applyQuaternion(camera.quaternion))
        .project(camera);
      const side = new Vector3(...shot.target)
        .add(new Vector3(half * (shot.frame ?? 1), 0, 0).applyQuaternion(camera.quaternion))
        .project(camera);
      const { wide, high } = shareOf(shot.frame ?? 1, aspect);
      expect(top.y).toBeCloseTo(high, 4);
      expect(side.x).toBeCloseTo(wide, 4);
      expect(Math.max(wide, high)).toBeCloseTo(0.86);
    }
  });

  it("looks at a place from straight above with another way up", () => {
    expect(closeOn([0, 1, 0], [0, 2, 0]).up).toEqual([0, 0, 1]);
    const side = closeOn([0.1, 1, 0.2], [0, 0, -3]);
    expect(side.up).toEqual([0, 1, 0]);
    expect(side.eye[2]).toBeLessThan(0.2);
  });
});
