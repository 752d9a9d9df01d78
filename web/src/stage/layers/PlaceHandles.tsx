import { type ThreeEvent, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef, useState } from "react";
import { Box3, Euler, Matrix4, type Object3D, Quaternion, Vector3 } from "three";
import { item } from "../../recipe/at";
import type { Nudge } from "../../recipe/recipe";
import { useTones } from "../../theme/palette";

interface Props {
  object: Object3D;
  onDone(nudge: Nudge): void;
}

type Triple = [number, number, number];
type Axis = 0 | 1 | 2;
type Grip = "move" | "size" | `${"move" | "turn" | "size"} ${Axis}`;
const AXES: Axis[] = [0, 1, 2];
const WAY = [new Vector3(1, 0, 0), new Vector3(0, 1, 0), new Vector3(0, 0, 1)];
const NONE: Nudge = { move: [0, 0, 0], turn: [0, 0, 0], scale: 1, stretch: [1, 1, 1] };

/**
 * Grips round a piece: the bead moves it in the view's plane, the cones along one direction, the hoops turn it, the knob above sizes
 * it, the studs at its sides stretch it along one direction.
 */
export function PlaceHandles({ object, onDone }: Props) {
  const tone = useTones();
  const { camera, gl, invalidate, size } = useThree();
  const [over, setOver] = useState<Grip | null>(null);
  const held = useRef<{ grip: Grip; x: number; y: number } | null>(null);
  const box = useMemo(() => {
    const geometry = (object as unknown as { geometry: { boundingBox: Box3 | null; computeBoundingBox(): void } })
      .geometry;
    geometry.computeBoundingBox();
    return geometry.boundingBox ?? new Box3();
  }, [object]);
  const middle = useMemo(() => box.getCenter(new Vector3()), [box]);
  const half = useMemo(() => box.getSize(new Vector3()).multiplyScalar(0.5), [box]);

  useEffect(() => {
    const show = (nudge: Nudge) => {
      const turn = new Matrix4().makeRotationFromEuler(new Euler(...nudge.turn, "ZYX"));
      const size = nudge.stretch.map((x) => x * nudge.scale) as Triple;
      const matrix = new Matrix4()
        .makeTranslation(...nudge.move)
        .multiply(new Matrix4().makeTranslation(middle.x, middle.y, middle.z))
        .multiply(turn)
        .multiply(new Matrix4().makeScale(...size))
        .multiply(new Matrix4().makeTranslation(-middle.x, -middle.y, -middle.z));
      matrix.decompose(object.position, object.quaternion, object.scale);
      object.updateMatrixWorld(true);
      invalidate();
    };
    const perPixel = (2 * camera.position.distanceTo(middle) * Math.tan((24 * Math.PI) / 360)) / size.height;
    const nudgeAt = (event: PointerEvent): Nudge => {
      const grip = held.current;
      if (!grip) return NONE;
      const dx = event.clientX - grip.x;
      const dy = event.clientY - grip.y;
      if (grip.grip === "size") return { ...NONE, scale: Math.exp(-dy * 0.004) };
      if (grip.grip === "move") {
        const right = new Vector3(1, 0, 0).applyQuaternion(camera.quaternion);
        const up = new Vector3(0, 1, 0).applyQuaternion(camera.quaternion);
        const by = right.multiplyScalar(dx * perPixel).add(up.multiplyScalar(-dy * perPixel));
        return { ...NONE, move: by.toArray() as Triple };
      }
      const [what, at] = grip.grip.split(" ");
      const axis = Number(at) as Axis;
      const put = (value: number, rest: number) => AXES.map((k) => (k === axis ? value : rest)) as Triple;
      if (what === "turn") return { ...NONE, turn: put(axis === 1 ? dx * 0.01 : dy * 0.01, 0) };
      // how far the pointer has gone along the direction as it is seen
      const seen = item(WAY, axis).clone().applyQuaternion(camera.quaternion.clone().invert());
      const length = Math.max(Math.hypot(seen.x, seen.y), 0.25);
      const along = (dx * seen.x - dy * seen.y) / length;
      if (what === "move") return { ...NONE, move: put((along * perPixel) / length, 0) };
      return { ...NONE, stretch: put(Math.exp(along * 0.005), 1) };
    };
    const drag = (event: PointerEvent) => held.current && show(nudgeAt(event));
    const drop = (event: PointerEvent) => {
      if (!held.current) return;
      const nudge = nudgeAt(event);
      held.current = null;
      onDone(nudge);
    };
    window.addEventListener("pointermove", drag);
    window.addEventListener("pointerup", drop);
    return () => {
      window.removeEventListener("pointermove", drag);
      window.removeEventListener("pointerup", drop);
      object.position.set(0, 0, 0);
      object.quaternion.copy(new Quaternion());
      object.scale.set(1, 1, 1);
    };
  }, [object, middle, camera, size, invalidate, onDone]);

  const grip = (name: Grip) => ({
    onPointerDown: (event: ThreeEvent<PointerEvent>) => {
      event.stopPropagation();
      event.nativeEvent.stopPropagation();
      held.current = { grip: name, x: event.nativeEvent.clientX, y: event.nativeEvent.clientY };
    },
    onPointerOver: () => {
      setOver(name);
      gl.domElement.style.cursor = "grab";
    },
    onPointerOut: () => {
      setOver(null);
      gl.domElement.style.cursor = "";
    },
  });
  const ink = (name: Grip) => (
    <meshBasicMaterial
      color={over === name ? tone("ink") : tone("heron")}
      depthTest={false}
      transparent
      opacity={0.92}
    />
  );
  const reach = Math.max(half.x, half.z) * 1.02;
  const turns = [
    [0, Math.PI / 2, 0],
    [Math.PI / 2, 0, 0],
    [0, 0, 0],
  ] as const;
  const ends = [half.x, half.y, half.z];
  return (
    <group position={middle} renderOrder={10}>
      {AXES.map((axis) => (
        <mesh
          key={`turn ${axis}`}
          {...grip(`turn ${axis}`)}
          rotation={turns[axis] as unknown as Triple}
          position-y={axis === 1 ? -half.y : 0}
          renderOrder={10}
        >
          <torusGeometry args={axis === 1 ? [reach, 0.008, 8, 96] : [0.16, 0.004, 8, 64]} />
          {ink(`turn ${axis}`)}
        </mesh>
      ))}
      {AXES.map((axis) => (
        <mesh
          key={`move ${axis}`}
          {...grip(`move ${axis}`)}
          position={item(WAY, axis).clone().multiplyScalar(0.11)}
          quaternion={new Quaternion().setFromUnitVectors(item(WAY, 1), item(WAY, axis))}
          renderOrder={11}
        >
          <coneGeometry args={[0.018, 0.05, 16]} />
          {ink(`move ${axis}`)}
        </mesh>
      ))}
      {AXES.map((axis) => (
        <mesh
          key={`size ${axis}`}
          {...grip(`size ${axis}`)}
          position={item(WAY, axis)
            .clone()
            .multiplyScalar(item(ends, axis) + 0.03)}
          renderOrder={11}
        >
          <boxGeometry args={[0.026, 0.026, 0.026]} />
          {ink(`size ${axis}`)}
        </mesh>
      ))}
      <mesh {...grip("move")} renderOrder={11}>
        <sphereGeometry args={[0.032, 24, 16]} />
        {ink("move")}
      </mesh>
      <mesh {...grip("size")} position-y={half.y + 0.1} renderOrder={11}>
        <octahedronGeometry args={[0.034]} />
        {ink("size")}
      </mesh>
    </group>
  );
}
