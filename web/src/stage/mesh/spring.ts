import { Matrix4, Quaternion, Vector3 } from "three";
import { i32, item } from "../../recipe/at";

/** As core/model/spring.py: the same rods, step for step. */
export interface SpringOf {
  stiffness: number;
  damping: number;
  gravity: number;
  limit: number;
}

export interface Links {
  places: Vector3[];
  ends: Vector3[];
  above: Int32Array;
  spring: SpringOf;
}

const GRAVITY = 9.81;
const STEP = 1 / 240;
const CALM = 6;

const turned = (q: Quaternion, by: Vector3): Quaternion => {
  const angle = by.length();
  const f = angle > 1e-12 ? Math.sin(angle / 2) / angle : 0.5;
  return new Quaternion(f * by.x, f * by.y, f * by.z, Math.cos(angle / 2)).multiply(q).normalize();
};

const away = (q: Quaternion, rest: Quaternion): Vector3 => {
  const d = q.clone().multiply(rest.clone().invert());
  const s = d.w < 0 ? -1 : 1;
  const size = Math.hypot(d.x, d.y, d.z);
  const f = (2 * Math.atan2(size, s * d.w) * s) / Math.max(size, 1e-12);
  return new Vector3(f * d.x, f * d.y, f * d.z);
};

const clamp = (x: number) => Math.min(Math.max(x, -60), 60);

/** Links in motion about their tops. */
export class Swinging {
  private readonly turns: Quaternion[];
  private readonly speed: Vector3[];
  private readonly top: Vector3[];
  private readonly topSpeed: Vector3[];

  constructor(
    public links: Links,
    carried: Matrix4[],
  ) {
    this.turns = carried.map((m) => new Quaternion().setFromRotationMatrix(m));
    this.top = links.places.map((p, i) => p.clone().applyMatrix4(item(carried, i)));
    this.speed = this.top.map(() => new Vector3());
    this.topSpeed = this.top.map(() => new Vector3());
  }

  fastest(): number {
    return Math.max(...this.speed.map((s) => s.length()));
  }

  /** The turns as numbers, to tell whether they still change. */
  pose(): number[] {
    return this.turns.flatMap((q) => q.toArray());
  }

  advance(carried: Matrix4[], seconds: number, damping = this.links.spring.damping): Matrix4[] {
    const { places, ends, above, spring } = this.links;
    const steps = Math.max(1, Math.round(seconds / STEP));
    const dt = seconds / steps;
    const begin = this.top.map((t) => t.clone());
    const goal = places.map((p, i) => p.clone().applyMatrix4(item(carried, i)));
    const base = carried.map((m) => new Quaternion().setFromRotationMatrix(m));
    for (let step = 1; step <= steps; step++)
      for (let i = 0; i < places.length; i++) {
        const up = i32(above, i);
        const here =
          up >= 0
            ? item(places, i)
                .clone()
                .sub(item(places, up))
                .applyQuaternion(item(this.turns, up))
                .add(item(this.top, up))
            : item(begin, i)
                .clone()
                .lerp(item(goal, i), step / steps);
        const rest = up >= 0 ? item(this.turns, up).clone() : item(base, i);
        const rate = here.clone().sub(item(this.top, i)).divideScalar(dt);
        const push = rate.clone().sub(item(this.topSpeed, i)).divideScalar(dt);
        const pull = new Vector3(-clamp(push.x), -clamp(push.y) - GRAVITY * spring.gravity, -clamp(push.z));
        this.top[i] = here;
        this.topSpeed[i] = rate;
        const rod = item(ends, i).clone().sub(item(places, i)).applyQuaternion(item(this.turns, i));
        const f = 1.5 / Math.max(rod.lengthSq(), 1e-4);
        const alpha = rod.clone().cross(pull).multiplyScalar(f);
        alpha
          .addScaledVector(away(item(this.turns, i), rest), -spring.stiffness)
          .addScaledVector(item(this.speed, i), -damping);
        item(this.speed, i).addScaledVector(alpha, dt);
        this.turns[i] = turned(item(this.turns, i), item(this.speed, i).clone().multiplyScalar(dt));
        const off = away(item(this.turns, i), rest);
        const size = off.length();
        if (size > spring.limit) {
          const out = off.clone().divideScalar(size);
          this.turns[i] = turned(rest, out.clone().multiplyScalar(spring.limit));
          item(this.speed, i).addScaledVector(out, -Math.max(item(this.speed, i).dot(out), 0));
        }
      }
    return places.map((p, i) => {
      const m = new Matrix4().makeRotationFromQuaternion(item(this.turns, i));
      return m.setPosition(
        item(this.top, i)
          .clone()
          .sub(p.clone().applyQuaternion(item(this.turns, i))),
      );
    });
  }
}

/** Matrices of links hanging still. */
export function hang(links: Links, carried: Matrix4[]): Matrix4[] {
  const state = new Swinging(links, carried);
  let out = carried;
  for (let k = 0; k < 60; k++) {
    const before = state.pose();
    out = state.advance(carried, 0.25, Math.max(links.spring.damping, CALM));
    if (state.pose().every((v, i) => Math.abs(v - item(before, i)) < 1e-7)) break;
  }
  return out;
}
