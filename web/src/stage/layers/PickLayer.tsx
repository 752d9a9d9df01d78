import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef, useState } from "react";
import { BufferGeometry, type Vector3 } from "three";
import { i32, item } from "../../recipe/at";
import { useRoom } from "../../store/room";
import { useTones } from "../../theme/palette";
import type { PieceMesh } from "../mesh/piece";
import { hitPiece } from "./ray";

/** A click on the piece picks a point; a drag draws a line over it. What it is for stands in `room.picking`. */
export function PickLayer({ mesh }: { mesh: PieceMesh }) {
  const tone = useTones();
  const { camera, gl, invalidate } = useThree();
  const picking = useRoom((s) => s.picking);
  const [line, setLine] = useState<Vector3[]>([]);
  const drawn = useRef<{ rows: number[]; points: Vector3[] } | null>(null);
  useEffect(() => {
    if (!picking) return;
    const canvas = gl.domElement;
    const drags = picking.kind === "line" || picking.kind === "select" || picking.kind === "ease";
    canvas.style.cursor = "crosshair";
    const add = (event: PointerEvent) => {
      const hit = hitPiece(event, canvas, camera, mesh);
      const path = drawn.current;
      if (!hit || !path) return;
      const last = path.points.at(-1);
      if (last && last.distanceTo(hit.point) < 0.004) return;
      path.points.push(hit.point);
      path.rows.push(mesh.received ? i32(mesh.received, hit.vertex) : hit.vertex);
      setLine([...path.points]);
      invalidate();
    };
    const down = (event: PointerEvent) => {
      if (event.button !== 0 || !hitPiece(event, canvas, camera, mesh)) return;
      event.stopPropagation();
      drawn.current = { rows: [], points: [] };
      add(event);
      if (!drags) finish();
    };
    const move = (event: PointerEvent) => {
      if (!drawn.current) return;
      event.stopPropagation();
      add(event);
    };
    const finish = () => {
      const path = drawn.current;
      drawn.current = null;
      setLine([]);
      invalidate();
      if (!path?.points.length) return;
      useRoom.getState().set({ picking: null });
      picking.done({ rows: path.rows, points: path.points.map((p) => p.toArray() as [number, number, number]) });
    };
    canvas.addEventListener("pointerdown", down);
    window.addEventListener("pointermove", move, true);
    window.addEventListener("pointerup", finish);
    return () => {
      canvas.style.cursor = "";
      canvas.removeEventListener("pointerdown", down);
      window.removeEventListener("pointermove", move, true);
      window.removeEventListener("pointerup", finish);
    };
  }, [picking, camera, gl, mesh, invalidate]);
  const shown = useMemo(() => new BufferGeometry().setFromPoints(line), [line]);
  return line.length > 1 ? (
    <lineSegments renderOrder={12}>
      <primitive object={stitched(shown, line)} attach="geometry" />
      <lineBasicMaterial color={tone("ink")} depthTest={false} linewidth={2} />
    </lineSegments>
  ) : null;
}

/** A running stitch along the line: every other step of it. */
function stitched(geometry: BufferGeometry, line: Vector3[]): BufferGeometry {
  const points: Vector3[] = [];
  for (let i = 0; i + 1 < line.length; i++) points.push(item(line, i), item(line, i + 1));
  return geometry.setFromPoints(points);
}
