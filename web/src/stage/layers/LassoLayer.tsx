import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef, useState } from "react";
import { BufferGeometry, Matrix4, Vector3 } from "three";
import { item } from "../../recipe/at";
import { useRoom } from "../../store/room";
import { useTones } from "../../theme/palette";
import { deviceAt } from "./ray";

const LEAST = 0.006;

/** A line drawn round part of the stage, closed by itself when let go; Escape puts it away. */
export function LassoLayer() {
  const tone = useTones();
  const { camera, gl, invalidate } = useThree();
  const lasso = useRoom((s) => s.lasso);
  const [line, setLine] = useState<[number, number][]>([]);
  const drawn = useRef<[number, number][] | null>(null);
  useEffect(() => {
    if (!lasso) return;
    const canvas = gl.domElement;
    canvas.style.cursor = "crosshair";
    const add = (event: PointerEvent) => {
      const path = drawn.current;
      if (!path) return;
      const [x, y] = deviceAt(event, canvas);
      const last = path.at(-1);
      if (last && Math.hypot(x - last[0], y - last[1]) < LEAST) return;
      path.push([x, y]);
      setLine([...path]);
      invalidate();
    };
    const down = (event: PointerEvent) => {
      if (event.button !== 0) return;
      event.stopPropagation();
      drawn.current = [];
      add(event);
    };
    const move = (event: PointerEvent) => {
      if (!drawn.current) return;
      event.stopPropagation();
      add(event);
    };
    const up = () => {
      const path = drawn.current;
      drawn.current = null;
      setLine([]);
      invalidate();
      if (!path || path.length < 3) return;
      camera.updateMatrixWorld();
      const clip = new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
      useRoom.getState().set({ lasso: null });
      lasso(clip.transpose().toArray(), path);
    };
    const key = (event: KeyboardEvent) => {
      if (event.key === "Escape") useRoom.getState().set({ lasso: null });
    };
    canvas.addEventListener("pointerdown", down);
    window.addEventListener("pointermove", move, true);
    window.addEventListener("pointerup", up);
    window.addEventListener("keydown", key);
    return () => {
      canvas.style.cursor = "";
      canvas.removeEventListener("pointerdown", down);
      window.removeEventListener("pointermove", move, true);
      window.removeEventListener("pointerup", up);
      window.removeEventListener("keydown", key);
    };
  }, [lasso, camera, gl, invalidate]);
  const shown = useMemo(() => {
    const places = [...line, ...line.slice(0, 1)].map(([x, y]) => new Vector3(x, y, -0.9).unproject(camera));
    return new BufferGeometry().setFromPoints(places.slice(1).flatMap((p, i) => [item(places, i), p]));
  }, [line, camera]);
  return line.length > 1 ? (
    <lineSegments renderOrder={12} frustumCulled={false}>
      <primitive object={shown} attach="geometry" />
      <lineBasicMaterial color={tone("ink")} depthTest={false} />
    </lineSegments>
  ) : null;
}
