import { useThree } from "@react-three/fiber";
import { useEffect, useRef, useState } from "react";
import type { Mesh } from "three";
import { LiveSocket } from "../../api/wire/live";
import type { StepOfKind } from "../../api/work";
import { useRoom, useRoomOf } from "../../store/room";
import type { PieceMesh } from "../mesh/piece";
import { posedMesh } from "../mesh/posed";
import { setWeights } from "../mesh/weights";
import { Brush, mirrored } from "./Brush";
import { type Hit, hitMesh } from "./ray";

interface Notes {
  seq: number;
  ms?: number;
  ready?: boolean;
  problem?: string;
  stroke?: StepOfKind<"weigh">;
}

/** The weight brush on the stage, in whatever pose the figure stands: dabs go to the server and come back as weights, which bend at once. */
export function WeightLayer({
  piece,
  mesh,
  onStroke,
}: {
  piece: number;
  mesh: PieceMesh;
  onStroke(stroke: StepOfKind<"weigh">): void;
}) {
  const { camera, gl, scene, invalidate } = useThree();
  const [brush, setBrush] = useState<Hit | null>(null);
  const posed = useRef<Mesh | null>(null);
  const held = useRef(false);
  const kept = useRef(onStroke);
  kept.current = onStroke;
  const { weights, pose, posing } = useRoomOf("weights", "pose", "posing");
  const socket = useRef<LiveSocket<Notes> | null>(null);

  const stance = useRef<unknown>(null);
  if (stance.current !== (posing ?? pose)) posed.current = null; // another pose is another surface to point at
  stance.current = posing ?? pose;

  useEffect(() => {
    const say = (text: string) => useRoom.getState().say({ kind: "problem", text });
    const live = new LiveSocket<Notes>(
      `/api/pieces/${piece}/weights`,
      (frame) => {
        const room = useRoom.getState();
        if (frame.has("rows")) {
          setWeights(mesh, frame.array("rows"), frame.array("joints"), frame.array("weights"));
          if (frame.notes.ms)
            room.set({ weights: { ...room.weights, last: frame.notes.ms, painted: room.weights.painted + 1 } });
        }
        if (frame.notes.stroke) kept.current(frame.notes.stroke);
        invalidate();
      },
      say,
    );
    socket.current = live;
    return () => live.close();
  }, [piece, mesh, invalidate]);

  useEffect(() => {
    const canvas = gl.domElement;
    const hitAt = (event: PointerEvent | WheelEvent) => {
      posed.current ??= posedMesh(scene, mesh);
      return posed.current && hitMesh(event, canvas, camera, posed.current, mesh);
    };
    const down = (event: PointerEvent) => {
      const { tool, joint, other, radius, strength, mirror, locks } = useRoom.getState().weights;
      if (event.button !== 0 || !tool || !joint) return;
      posed.current = null;
      const hit = hitAt(event);
      if (!hit) return;
      event.stopPropagation();
      held.current = true;
      const stroke = {
        tool,
        joint,
        other: tool === "add" || tool === "take" || tool === "share" ? other : "",
        radius,
        strength,
        mirror,
        locks,
      };
      socket.current?.send({ do: "begin", vertex: hit.vertex, stroke });
    };
    const move = (event: PointerEvent) => {
      if (!useRoom.getState().weights.tool) return;
      if (held.current) event.stopPropagation();
      else if (event.buttons) return;
      const hit = hitAt(event);
      setBrush(hit);
      invalidate();
      if (held.current && hit) socket.current?.send({ do: "dab", vertex: hit.vertex });
    };
    const up = () => {
      if (!held.current) return;
      held.current = false;
      posed.current = null;
      socket.current?.send({ do: "end" });
    };
    const onEscape = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || !held.current) return;
      event.stopPropagation();
      held.current = false;
      socket.current?.send({ do: "cancel" });
    };
    const wheel = (event: WheelEvent) => {
      const room = useRoom.getState();
      if (!room.weights.tool || !hitAt(event)) return;
      event.preventDefault();
      event.stopPropagation();
      const radius = Math.min(0.3, Math.max(0.008, room.weights.radius * Math.exp(-event.deltaY * 0.0012)));
      room.set({ weights: { ...room.weights, radius } });
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
  }, [camera, gl, scene, mesh, invalidate]);

  return (
    <>
      {weights.tool && brush && <Brush at={brush} radius={weights.radius} />}
      {weights.tool && brush && weights.mirror && Math.abs(brush.point.x) > 0.004 && (
        <Brush at={mirrored(brush)} radius={weights.radius} faint />
      )}
    </>
  );
}
