import { useThree } from "@react-three/fiber";
import { useEffect, useRef, useState } from "react";
import { BufferGeometry, type Mesh, Plane, Vector3 } from "three";
import type { CellAsked } from "../../api/client";
import { HandSocket, type StepOfKind } from "../../api/work";
import { f32 } from "../../recipe/at";
import { useRoom, useRoomOf } from "../../store/room";
import { useTones } from "../../theme/palette";
import { type PieceMesh, showPoints } from "../mesh/piece";
import { posedMesh } from "../mesh/posed";
import { Brush, mirrored } from "./Brush";
import { type Hit, hitMesh, hitPiece, rayAt } from "./ray";

interface Props {
  piece: number;
  mesh: PieceMesh;
  /** The cell it is worked on in, if not at rest. */
  cell?: CellAsked;
  onStroke(stroke: StepOfKind<"stroke">): void;
}

/** The hand tools on the stage: the brush lies on the cloth, strokes go to the server and come back as moved points. */
export function HandLayer({ piece, mesh, cell, onStroke }: Props) {
  const tone = useTones();
  const { camera, gl, scene, invalidate } = useThree();
  const posed = useRef<Mesh | null>(null);
  const where = cell ? JSON.stringify(cell) : "";
  const [brush, setBrush] = useState<Hit | null>(null);
  const [ghost, setGhost] = useState<BufferGeometry | null>(null);
  const socket = useRef<HandSocket | null>(null);
  const held = useRef<{ start: Hit; plane: Plane } | null>(null);
  const { hand } = useRoomOf("hand");
  const kept = useRef(onStroke);
  kept.current = onStroke;

  useEffect(() => {
    const say = (text: string) => useRoom.getState().say({ kind: "problem", text });
    const live = new HandSocket(
      piece,
      (frame) => {
        if (frame.has("rows")) {
          const rows = frame.array<Int32Array>("rows");
          showPoints(mesh, frame.array<Float32Array>("points"), rows);
          mesh.protect ??= new Float32Array(mesh.kept.length / 3);
          const protect = frame.array<Float32Array>("protect");
          rows.forEach((row, i) => {
            (mesh.protect as Float32Array)[row] = f32(protect, i);
          });
          if (frame.notes.ms) useRoom.getState().set({ hand: { ...useRoom.getState().hand, last: frame.notes.ms } });
        }
        if (frame.notes.stroke) kept.current(frame.notes.stroke);
        invalidate();
      },
      say,
      where,
    );
    socket.current = live;
    posed.current = null;
    return () => live.close();
  }, [piece, mesh, where, invalidate]);

  useEffect(() => {
    const canvas = gl.domElement;
    const hitAt = (event: PointerEvent | WheelEvent) => {
      if (!where) return hitPiece(event, canvas, camera, mesh);
      posed.current ??= posedMesh(scene, mesh);
      return posed.current && hitMesh(event, canvas, camera, posed.current, mesh);
    };
    const brushOf = () => {
      const { tool, radius, strength, mirror, elastic, offset } = useRoom.getState().hand;
      return { tool: tool ?? "pull", radius, strength, mirror, elastic, offset };
    };
    const down = (event: PointerEvent) => {
      if (event.button !== 0 || !useRoom.getState().hand.tool) return;
      posed.current = null;
      const hit = hitAt(event);
      if (!hit) return;
      event.stopPropagation();
      const facing = camera.getWorldDirection(new Vector3());
      held.current = { start: hit, plane: new Plane().setFromNormalAndCoplanarPoint(facing, hit.point) };
      const before = new BufferGeometry();
      const shown = posed.current ? (posed.current as Mesh).geometry : mesh.geometry;
      before.setAttribute("position", shown.getAttribute("position").clone());
      before.setIndex(mesh.geometry.getIndex());
      setGhost(before);
      socket.current?.send({ do: "begin", vertex: hit.vertex, stroke: brushOf() });
    };
    const move = (event: PointerEvent) => {
      const grip = held.current;
      if (!grip) {
        if (useRoom.getState().hand.tool && event.buttons === 0) {
          setBrush(hitAt(event));
          invalidate();
        }
        return;
      }
      event.stopPropagation();
      if (useRoom.getState().hand.tool === "pull") {
        const target = rayAt(event, canvas, camera).ray.intersectPlane(grip.plane, new Vector3());
        if (target)
          socket.current?.send({
            do: "dab",
            vertex: grip.start.vertex,
            move: target.sub(grip.start.point).toArray() as [number, number, number],
          });
        return;
      }
      const hit = hitAt(event);
      setBrush(hit);
      if (hit) socket.current?.send({ do: "dab", vertex: hit.vertex });
    };
    const up = () => {
      if (!held.current) return;
      held.current = null;
      setGhost(null);
      posed.current = null;
      socket.current?.send({ do: "end" });
    };
    const onEscape = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || !held.current) return;
      event.stopPropagation();
      held.current = null;
      setGhost(null);
      socket.current?.send({ do: "cancel" });
    };
    const wheel = (event: WheelEvent) => {
      const room = useRoom.getState();
      if (!room.hand.tool || !hitAt(event)) return;
      event.preventDefault();
      event.stopPropagation();
      const radius = Math.min(0.4, Math.max(0.008, room.hand.radius * Math.exp(-event.deltaY * 0.0012)));
      room.set({ hand: { ...room.hand, radius } });
      invalidate();
    };
    canvas.addEventListener("pointerdown", down);
    window.addEventListener("pointermove", move, true);
    window.addEventListener("pointerup", up);
    window.addEventListener("keydown", onEscape, true);
    canvas.addEventListener("wheel", wheel, { passive: false });
    return () => {
      canvas.removeEventListener("pointerdown", down);
      window.removeEventListener("pointermove", move, true);
      window.removeEventListener("pointerup", up);
      window.removeEventListener("keydown", onEscape, true);
      canvas.removeEventListener("wheel", wheel);
    };
  }, [camera, gl, scene, mesh, where, invalidate]);

  return (
    <>
      {ghost && (
        <mesh geometry={ghost} renderOrder={8} raycast={() => {}}>
          <meshBasicMaterial
            color={tone("heron")}
            transparent
            opacity={0.22}
            depthWrite={false}
            polygonOffset
            polygonOffsetFactor={2}
            polygonOffsetUnits={8}
          />
        </mesh>
      )}
      {hand.tool && brush && <Brush at={brush} radius={hand.radius} />}
      {hand.tool && brush && hand.mirror && Math.abs(brush.point.x) > 0.004 && (
        <Brush at={mirrored(brush)} radius={hand.radius} faint />
      )}
    </>
  );
}
