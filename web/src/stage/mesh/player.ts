import { Quaternion } from "three";
import type { MotionNotes } from "../../api/posing";
import type { Frame } from "../../api/wire/frames";
import type { Figure } from "./figure";

/** The turns of a motion by joint index at a time in seconds, over and over, between its frames. */
export function player(motion: Frame<MotionNotes>, figure: Figure): (seconds: number) => Map<number, Quaternion> {
  const { joints, seconds_per_frame } = motion.notes;
  const rotations = motion.array<Float32Array>("rotations");
  const width = 4 * joints.length;
  const frames = rotations.length / width;
  const index = joints.map((j) => figure.joints.indexOf(j));
  return (seconds) => {
    const t = (seconds / seconds_per_frame) % frames;
    const a = Math.floor(t);
    const turns = new Map<number, Quaternion>();
    index.forEach((joint, k) => {
      if (joint < 0) return;
      const from = new Quaternion().fromArray(rotations, a * width + 4 * k);
      const to = new Quaternion().fromArray(rotations, ((a + 1) % frames) * width + 4 * k);
      turns.set(joint, from.slerp(to, t - a));
    });
    return turns;
  };
}
