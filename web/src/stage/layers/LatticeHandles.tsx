import { type ThreeEvent, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef, useState } from "react";
import { BufferGeometry, Plane, Vector3 } from "three";
import { HandSocket, type StepOfKind } from "../../api/work";
import { item } from "../../recipe/at";
import { useRoom } from "../../store/room";
import { useTones } from "../../theme/palette";
import { type PieceMesh, showPoints } from "../mesh/piece";
import { rayAt } from "./ray";

type Lattice = StepOfKind<"lattice">;

interface Props {
  piece: number;
  mesh: PieceMesh;
  step: Lattice;
  onChange(step: Lattice): void;
}

/** The knots of a lattice as beads; while one is dragged the server bends the piece and the stage shows it. */
export function LatticeHandles({ piece, mesh, step, onChange }: Props) {
  const tone = useTones();
  const { camera, gl, invalidate } = useThree();
  const socket = useRef<HandSocket | null>(null);
  const now = useRef<Lattice>({ ...step, knots: [] });
  const [over, setOver] = useState<number | null>(null);
  const [shown, setShown] = useState<Lattice>(now.current);
  const held = useRef<{ at: number; rest: Vector3; plane: Plane } | null>(null);
  const rest = useMemo(() => knotsOf(shown), [shown]);
  const kept = useRef(onChange);
  kept.current = onChange;

  useEffect(() => {
    now.current = { ...step, knots: [] }; // what was pulled before is in the piece already
    setShown(now.current);
  }, [step]);
  useEffect(() => {
    const live = new HandSocket(
      piece,
      (frame) => {
        if (frame.has("rows")) {
          mesh.source.points.set(mesh.kept);
          showPoints(mesh, frame.array<Float32Array>("points"), frame.array<Int32Array>("rows"));
          invalidate();
        }
      },
      (text) => useRoom.getState().say({ kind: "problem", text }),
    );
    socket.current = live;
    return () => {
      live.close();
      showPoints(mesh, mesh.kept);
      invalidate();
    };
  }, [piece, mesh, invalidate]);
  useEffect(() => {
    const drag = (event: PointerEvent) => {
      const grip = held.current;
      if (!grip) return;
      event.stopPropagation();
      const target = rayAt(event, gl.domElement, camera).ray.intersectPlane(grip.plane, new Vector3());
      if (!target) return;
      const move = target.sub(grip.rest).toArray() as [number, number, number];
      now.current = { ...now.current, knots: [{ at: grip.at, move }] };
      setShown(now.current);
      socket.current?.send({ do: "lattice", step: now.current });
    };
    const drop = () => {
      if (held.current) kept.current(now.current);
      held.current = null;
    };
    window.addEventListener("pointermove", drag, true);
    window.addEventListener("pointerup", drop);
    return () => {
      window.removeEventListener("pointermove", drag, true);
      window.removeEventListener("pointerup", drop);
    };
  }, [camera, gl]);

  const at = useMemo(() => {
    const places = rest.map((p) => p.clone());
    for (const knot of shown.knots ?? []) places[knot.at]?.add(new Vector3(...knot.move));
    return places;
  }, [rest, shown]);
  const cage = useMemo(() => new BufferGeometry().setFromPoints(cageOf(at, shown.cells ?? [2, 2, 2])), [at, shown]);
  const take = (index: number) => (event: ThreeEvent<PointerEvent>) => {
    event.stopPropagation();
    event.nativeEvent.stopPropagation();
    const facing = camera.getWorldDirection(new Vector3());
    held.current = {
      at: index,
      rest: item(rest, index),
      plane: new Plane().setFromNormalAndCoplanarPoint(facing, item(at, index)),
    };
  };
  return (
    <>
      <lineSegments geometry={cage} renderOrder={9}>
        <lineBasicMaterial color={tone("heron")} transparent opacity={0.4} depthTest={false} />
      </lineSegments>
      {at.map((place, i) => (
        <mesh
          // biome-ignore lint/suspicious/noArrayIndexKey: a knot is known by its place in the lattice
          key={i}
          name={`knot ${i}`}
          position={place}
          renderOrder={12}
          onPointerDown={take(i)}
          onPointerOver={() => setOver(i)}
          onPointerOut={() => setOver(null)}
        >
          <sphereGeometry args={[0.012, 14, 10]} />
          <meshBasicMaterial
            color={over === i ? tone("ink") : tone("heron")}
            depthTest={false}
            transparent
            opacity={0.9}
          />
        </mesh>
      ))}
    </>
  );
}

/** Where the knots stand at rest, x slowest and z fastest. */
function knotsOf({ low, high, cells = [2, 2, 2] }: Lattice): Vector3[] {
  const axis = (a: number) =>
    Array.from(
      { length: item(cells, a) + 1 },
      (_, i) => item(low, a) + ((item(high, a) - item(low, a)) * i) / item(cells, a),
    );
  return axis(0).flatMap((x) => axis(1).flatMap((y) => axis(2).map((z) => new Vector3(x, y, z))));
}

function cageOf(at: Vector3[], cells: number[]): Vector3[] {
  const [, b = 2, c = 2] = cells;
  const out: Vector3[] = [];
  at.forEach((place, i) => {
    const z = i % (c + 1);
    const y = Math.floor(i / (c + 1)) % (b + 1);
    const next = [z < c ? i + 1 : -1, y < b ? i + c + 1 : -1, i + (b + 1) * (c + 1)];
    for (const j of next) if (j >= 0 && j < at.length) out.push(place, item(at, j));
  });
  return out;
}
