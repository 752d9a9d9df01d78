import { useThree } from "@react-three/fiber";
import { useEffect, useRef, useState } from "react";
import { Plane, Vector3 } from "three";
import { useTones } from "../../theme/palette";
import type { PieceMesh } from "../mesh/piece";
import { posedMesh } from "../mesh/posed";
import { hitMesh, rayAt } from "./ray";

interface Props {
  mesh: PieceMesh;
  onGrab(vertex: number, to: [number, number, number]): void;
  onLetGo(): void;
}

/** Take hold of the cloth on the stage and lead it while it falls; Escape lets go. */
export function GrabLayer({ mesh, onGrab, onLetGo }: Props) {
  const tone = useTones();
  const { camera, gl, scene, invalidate } = useThree();
  const held = useRef<{ vertex: number; plane: Plane } | null>(null);
  const [at, setAt] = useState<Vector3 | null>(null);
  const calls = useRef({ onGrab, onLetGo });
  calls.current = { onGrab, onLetGo };

  useEffect(() => {
    const canvas = gl.domElement;
    const down = (event: PointerEvent) => {
      if (event.button !== 0) return;
      const posed = posedMesh(scene, mesh);
      const hit = posed && hitMesh(event, canvas, camera, posed, mesh);
      if (!hit) return;
      event.stopPropagation();
      const facing = camera.getWorldDirection(new Vector3());
      held.current = { vertex: hit.vertex, plane: new Plane().setFromNormalAndCoplanarPoint(facing, hit.point) };
      calls.current.onGrab(hit.vertex, hit.point.toArray());
      setAt(hit.point);
      invalidate();
    };
    const move = (event: PointerEvent) => {
      if (!held.current) return;
      event.stopPropagation();
      const to = rayAt(event, canvas, camera).ray.intersectPlane(held.current.plane, new Vector3());
      if (!to) return;
      calls.current.onGrab(held.current.vertex, to.toArray());
      setAt(to);
      invalidate();
    };
    const release = () => {
      if (!held.current) return;
      held.current = null;
      setAt(null);
      calls.current.onLetGo();
    };
    const onEscape = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || !held.current) return;
      event.stopPropagation();
      release();
    };
    canvas.addEventListener("pointerdown", down);
    window.addEventListener("pointermove", move, true);
    window.addEventListener("pointerup", release);
    window.addEventListener("keydown", onEscape, true);
    return () => {
      canvas.removeEventListener("pointerdown", down);
      window.removeEventListener("pointermove", move, true);
      window.removeEventListener("pointerup", release);
      window.removeEventListener("keydown", onEscape, true);
    };
  }, [camera, gl, scene, mesh, invalidate]);

  return at ? (
    <mesh position={at} renderOrder={9} raycast={() => {}}>
      <sphereGeometry args={[0.012, 16, 12]} />
      <meshBasicMaterial color={tone("heron")} depthTest={false} transparent opacity={0.85} />
    </mesh>
  ) : null;
}
