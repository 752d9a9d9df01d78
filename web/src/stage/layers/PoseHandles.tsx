import { type ThreeEvent, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef, useState } from "react";
import { Plane, Raycaster, Vector2, Vector3 } from "three";
import { useTones } from "../../theme/palette";
import type { Figure } from "../mesh/figure";
import { jointPlaces } from "../mesh/jointPlaces";

interface Props {
  figure: Figure;
  shape: Record<string, number>;
  rotations: Record<string, number[]>;
  joints: string[];
  chosen: string | null;
  onPick(joint: string): void;
  onDrag(joint: string, target: [number, number, number]): void;
}

/** Where a bead sits beside its joint: the head's above the crown, not on the mouth. */
const BEADS: Record<string, Vector3> = { skullbase: new Vector3(0, 0.21, 0) };
const NONE = new Vector3();
const END = /radiocarpal|talocrural|skullbase/;

/** Beads on the joints that can be dragged; the limbs' ends are larger. */
export function PoseHandles({ figure, shape, rotations, joints, chosen, onPick, onDrag }: Props) {
  const tone = useTones();
  const { camera, gl, invalidate } = useThree();
  const [over, setOver] = useState<string | null>(null);
  const held = useRef<{ joint: string; bead: Vector3; plane: Plane } | null>(null);
  const places = useMemo(
    () =>
      jointPlaces(figure, shape, rotations, joints).map(({ joint, at }) => ({
        joint,
        at: at.add(BEADS[joint] ?? NONE),
      })),
    [figure, shape, rotations, joints],
  );

  useEffect(() => {
    const drag = (event: PointerEvent) => {
      const grip = held.current;
      if (!grip) return;
      const box = gl.domElement.getBoundingClientRect();
      const at = new Vector2(
        ((event.clientX - box.left) / box.width) * 2 - 1,
        1 - ((event.clientY - box.top) / box.height) * 2,
      );
      const ray = new Raycaster();
      ray.setFromCamera(at, camera);
      const target = ray.ray.intersectPlane(grip.plane, new Vector3());
      if (target) onDrag(grip.joint, target.sub(grip.bead).toArray());
    };
    const drop = () => {
      held.current = null;
    };
    window.addEventListener("pointermove", drag);
    window.addEventListener("pointerup", drop);
    return () => {
      window.removeEventListener("pointermove", drag);
      window.removeEventListener("pointerup", drop);
    };
  }, [camera, gl, onDrag]);
  useEffect(() => {
    if (places.length) invalidate();
  }, [places, invalidate]);

  const take = (joint: string, at: Vector3) => (event: ThreeEvent<PointerEvent>) => {
    event.stopPropagation();
    event.nativeEvent.stopPropagation();
    const facing = camera.getWorldDirection(new Vector3());
    const bead = new Vector3().copy(BEADS[joint] ?? NONE);
    held.current = { joint, bead, plane: new Plane().setFromNormalAndCoplanarPoint(facing, at) };
    onPick(joint);
  };
  return (
    <>
      {places.map(({ joint, at }) => (
        <mesh
          key={joint}
          name={joint}
          position={at}
          renderOrder={12}
          onPointerDown={take(joint, at)}
          onPointerOver={() => setOver(joint)}
          onPointerOut={() => setOver(null)}
        >
          <sphereGeometry args={[END.test(joint) ? 0.021 : 0.014, 18, 12]} />
          <meshBasicMaterial
            color={joint === chosen || joint === over ? tone("ink") : tone("heron")}
            depthTest={false}
            transparent
            opacity={0.9}
          />
        </mesh>
      ))}
    </>
  );
}
