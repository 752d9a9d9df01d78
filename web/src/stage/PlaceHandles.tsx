import { type ThreeEvent, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef, useState } from "react";
import { Box3, Matrix4, type Object3D, Quaternion, Vector3 } from "three";

export interface Nudge {
  move: [number, number, number];
  turnY: number;
  scale: number;
}

interface Props {
  object: Object3D;
  onDone(nudge: Nudge): void;
}

type Grip = "move" | "turn" | "size";

/** Three grips round a piece: the bead moves it in the view's plane, the hoop turns it upright, the knob above sizes it. */
export function PlaceHandles({ object, onDone }: Props) {
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
      const matrix = new Matrix4()
        .makeTranslation(...nudge.move)
        .multiply(new Matrix4().makeTranslation(middle.x, middle.y, middle.z))
        .multiply(new Matrix4().makeRotationY(nudge.turnY))
        .multiply(new Matrix4().makeScale(nudge.scale, nudge.scale, nudge.scale))
        .multiply(new Matrix4().makeTranslation(-middle.x, -middle.y, -middle.z));
      matrix.decompose(object.position, object.quaternion, object.scale);
      object.updateMatrixWorld(true);
      invalidate();
    };
    const nudgeAt = (event: PointerEvent): Nudge => {
      const grip = held.current;
      const none: Nudge = { move: [0, 0, 0], turnY: 0, scale: 1 };
      if (!grip) return none;
      const dx = event.clientX - grip.x;
      const dy = event.clientY - grip.y;
      if (grip.grip === "turn") return { ...none, turnY: dx * 0.01 };
      if (grip.grip === "size") return { ...none, scale: Math.exp(-dy * 0.004) };
      const perPixel = (2 * camera.position.distanceTo(middle) * Math.tan((24 * Math.PI) / 360)) / size.height;
      const right = new Vector3(1, 0, 0).applyQuaternion(camera.quaternion);
      const up = new Vector3(0, 1, 0).applyQuaternion(camera.quaternion);
      const by = right.multiplyScalar(dx * perPixel).add(up.multiplyScalar(-dy * perPixel));
      return { ...none, move: [by.x, by.y, by.z] };
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
    <meshBasicMaterial color={over === name ? "#22303a" : "#3e6481"} depthTest={false} transparent opacity={0.92} />
  );
  const reach = Math.max(half.x, half.z) * 1.02;
  return (
    <group position={middle} renderOrder={10}>
      <mesh {...grip("turn")} rotation-x={Math.PI / 2} position-y={-half.y} renderOrder={10}>
        <torusGeometry args={[reach, 0.008, 8, 96]} />
        {ink("turn")}
      </mesh>
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
