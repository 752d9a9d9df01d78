import { Canvas, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef, useState } from "react";
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  Mesh,
  MeshLambertMaterial,
  type PerspectiveCamera,
  Raycaster,
  Vector2,
} from "three";
import { acceleratedRaycast, MeshBVH } from "three-mesh-bvh";
import type { Choose, DressedMesh, Part, Role } from "../../api/apart";
import { f32, i32 } from "../../recipe/at";
import { Camera } from "../../stage/Camera";
import { normalsOf, spread } from "../../stage/mesh/drawn";
import { useRoom } from "../../store/room";
import { partColour, toneOf } from "../../theme/palette";
import { TEXT } from "./texts";

export type Tool = "run" | "material" | "part" | "lasso";

interface Props {
  mesh: DressedMesh;
  parts: Part[];
  chosen: Set<number>;
  tool: Tool;
  through: boolean;
  roles: Role[] | null;
  hidden: Set<number>;
  onChoose(how: Choose, more: boolean): void;
}

/** The dressed body with its parts in colours: a click or an outline chooses faces, a drag on empty ground turns it. */
export function DressedStage(props: Props) {
  const { tool } = props;
  const set = useRoom((s) => s.set);
  const [outline, setOutline] = useState<[number, number][]>([]);
  const from = useRef<{ x: number; y: number; moved: boolean; lasso: boolean } | null>(null);
  const lens = useRef<PerspectiveCamera | null>(null);
  const pick = useRef<(x: number, y: number) => number | null>(() => null);
  const at = (e: React.PointerEvent): [number, number] => {
    const box = e.currentTarget.getBoundingClientRect();
    return [e.clientX - box.left, e.clientY - box.top];
  };
  const flat = (e: React.PointerEvent, [x, y]: [number, number]): [number, number] => {
    const box = e.currentTarget.getBoundingClientRect();
    return [(x / box.width) * 2 - 1, 1 - (y / box.height) * 2];
  };
  const finish = (e: React.PointerEvent) => {
    const start = from.current;
    from.current = null;
    if (!start) return;
    const more = e.shiftKey;
    if (start.lasso && outline.length > 5 && lens.current) {
      const camera = lens.current;
      const matrix = camera.projectionMatrix.clone().multiply(camera.matrixWorldInverse);
      props.onChoose(
        {
          way: "lasso",
          outline: outline.map((p) => flat(e, p)),
          matrix: matrix.transpose().toArray(),
          eye: camera.position.toArray() as [number, number, number],
          through: props.through,
          chosen: [],
        },
        more,
      );
    } else if (!start.moved) {
      const face = pick.current(...flat(e, at(e)));
      if (face !== null) {
        const part = props.mesh.label[face];
        const way = tool === "lasso" ? "run" : tool;
        props.onChoose({ way, face, part, outline: [], matrix: [], eye: [0, 0, 0], through: false, chosen: [] }, more);
      }
    }
    setOutline([]);
  };
  return (
    <div
      role="img"
      aria-label={TEXT.theDressedBodyAnd}
      className="absolute inset-0"
      style={{ touchAction: "none", cursor: tool === "lasso" ? "crosshair" : "grab" }}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        const lasso = tool === "lasso" && !e.altKey;
        from.current = { x: e.clientX, y: e.clientY, moved: false, lasso };
        if (lasso) setOutline([at(e)]);
      }}
      onPointerMove={(e) => {
        const start = from.current;
        if (!start) return;
        if (Math.hypot(e.clientX - start.x, e.clientY - start.y) > 4) start.moved = true;
        if (start.lasso) {
          const here = at(e);
          setOutline((line) => [...line, here]);
          return;
        }
        const { yaw, pitch } = useRoom.getState();
        if (start.moved) {
          set({
            yaw: yaw - e.movementX * 0.01,
            pitch: Math.max(-0.5, Math.min(1.2, pitch + e.movementY * 0.005)),
          });
        }
      }}
      onPointerUp={finish}
      onWheel={(e) => set({ zoom: Math.max(0.7, Math.min(6, useRoom.getState().zoom * Math.exp(-e.deltaY * 0.001))) })}
    >
      <Canvas frameloop="demand" dpr={1} gl={{ antialias: true, alpha: true }} camera={{ fov: 24, near: 0.1, far: 20 }}>
        <Camera />
        <hemisphereLight args={[toneOf("sky"), toneOf("earth"), 1.7]} />
        <directionalLight position={[-1.9, 3.6, 2.9]} intensity={1.9} color={toneOf("sun")} />
        <directionalLight position={[2.6, 1.4, -1.6]} intensity={0.7} color={toneOf("side")} />
        <Dressed {...props} lens={lens} pick={pick} />
        {props.roles && <Joints roles={props.roles} />}
      </Canvas>
      {outline.length > 1 && (
        <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden>
          <polyline
            points={outline.map((p) => p.join()).join(" ")}
            fill="none"
            stroke="var(--color-ink)"
            strokeWidth={1.5}
            strokeDasharray="5 4"
          />
        </svg>
      )}
    </div>
  );
}

interface DressedProps extends Props {
  lens: React.MutableRefObject<PerspectiveCamera | null>;
  pick: React.MutableRefObject<(x: number, y: number) => number | null>;
}

/** Every face has its own three corners, so that each can have its part's colour. */
function Dressed({ mesh, parts, chosen, hidden, lens, pick }: DressedProps) {
  const { camera, invalidate } = useThree();
  const { points, triangles } = mesh;
  const object = useMemo(() => {
    const corner = new Float32Array(triangles.length * 3);
    triangles.forEach((row, i) => {
      corner.set(points.subarray(3 * row, 3 * row + 3), 3 * i);
    });
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(corner, 3));
    geometry.setAttribute("color", new BufferAttribute(new Float32Array(corner.length), 3));
    const normals = new Float32Array(points.length);
    normalsOf(points, triangles, normals);
    geometry.setAttribute("normal", new BufferAttribute(spread(normals, triangles, 3), 3));
    const made = new Mesh(geometry, new MeshLambertMaterial({ vertexColors: true, side: DoubleSide }));
    made.raycast = acceleratedRaycast;
    // the tree orders faces anew, so it works on a copy that remembers where each came from
    const index = new BufferGeometry();
    index.setAttribute("position", geometry.getAttribute("position"));
    const tree = new MeshBVH(index, { indirect: true });
    return { made, tree };
  }, [points, triangles]);
  useEffect(() => {
    lens.current = camera as PerspectiveCamera;
    const ray = new Raycaster();
    pick.current = (x, y) => {
      ray.setFromCamera(new Vector2(x, y), camera);
      const hits = object.tree.raycast(ray.ray, DoubleSide);
      const seen = hits.filter((h) => !hidden.has(i32(mesh.label, h.faceIndex ?? 0)));
      seen.sort((a, b) => a.distance - b.distance);
      return seen[0]?.faceIndex ?? null;
    };
  }, [camera, object, lens, pick, hidden, mesh.label]);
  useEffect(() => {
    const colour = object.made.geometry.getAttribute("color");
    const place = object.made.geometry.getAttribute("position");
    const dyes = parts.map((p) => new Color(partColour(p.colour)));
    const bright = new Color(toneOf("lit"));
    const mixed = new Color();
    const { points, triangles, label } = mesh;
    for (let face = 0; face < label.length; face++) {
      mixed.copy(dyes[i32(label, face)] ?? bright);
      if (chosen.has(face)) mixed.lerp(bright, 0.62);
      const gone = hidden.has(i32(label, face));
      for (let k = 0; k < 3; k++) {
        const at = 3 * face + k;
        colour.setXYZ(at, mixed.r, mixed.g, mixed.b);
        const row = i32(triangles, gone ? 3 * face : at);
        place.setXYZ(at, f32(points, 3 * row), f32(points, 3 * row + 1), f32(points, 3 * row + 2));
      }
    }
    colour.needsUpdate = true;
    place.needsUpdate = true;
    invalidate();
  }, [object, parts, chosen, hidden, mesh, invalidate]);
  return <primitive object={object.made} />;
}

/** A bead at each of our joints that was found. */
function Joints({ roles }: { roles: Role[] }) {
  return (
    <>
      {roles.map(
        (r) =>
          r.place && (
            <mesh key={r.role} position={r.place as [number, number, number]} renderOrder={2}>
              <sphereGeometry args={[0.014, 12, 8]} />
              <meshBasicMaterial color={toneOf("mapInk")} depthTest={false} transparent opacity={0.85} />
            </mesh>
          ),
      )}
    </>
  );
}
