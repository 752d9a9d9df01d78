import { Bone, type BufferGeometry, Matrix4, Mesh, Skeleton, SkinnedMesh } from "three";
import { f32, item } from "../../recipe/at";
import { MapMaterial } from "./cloth";
import type { Figure } from "./figure";
import type { PieceMesh } from "./piece";
import { type Correctives, correctivesOf, correctiveValues, RiderRig, type Stance } from "./worn";

/** A piece's object on the stage, and what moves it. */
export interface Dressed {
  object: Mesh;
  materials: MapMaterial[];
  correctives: Correctives | null;
  ride: RiderRig | null;
  /** The piece's own joints. */
  bones: Bone[];
}

/** How much each of a piece's moves comes in: its shapes, then its correctives. */
export function influence(mesh: PieceMesh, correctives: Correctives | null, { values, turns }: Stance) {
  const fixes = correctives && correctiveValues(correctives, values, turns);
  return (s: number) => (s < values.length ? f32(values, s) - f32(mesh.madeAt, s) : (fixes?.[s - values.length] ?? 0));
}

export function dress(mesh: PieceMesh, skeleton: Skeleton, figure: Figure): Dressed {
  const materials = mesh.materials.map((m) => new MapMaterial(m.colour, m.roughness, m.metal, true, mesh.width === 8));
  const still = window.matchMedia("(prefers-reduced-motion: reduce)").matches;
  const bones = Array.from({ length: mesh.riders?.count ?? 0 }, () => new Bone());
  for (const bone of bones) bone.matrixAutoUpdate = false;
  const all = [...skeleton.bones.slice(0, mesh.riders?.first), ...bones]; // a tail grown later bears none of it
  const own = new Skeleton(
    all,
    all.map(() => new Matrix4()),
  );
  mesh.materials.forEach((m, k) => {
    item(materials, k).textured(m);
  });
  const object = mesh.bound ? new SkinnedMesh(mesh.geometry, materials) : new Mesh(mesh.geometry, materials);
  prepare(object, mesh.geometry);
  if (object instanceof SkinnedMesh) object.bind(bones.length ? own : skeleton, new Matrix4());
  return {
    object,
    materials,
    bones,
    correctives: correctivesOf(mesh.frame, figure.shapes, figure.joints),
    ride: mesh.riders && new RiderRig(mesh.riders, still),
  };
}

export function prepare(object: Mesh, geometry: BufferGeometry): void {
  object.castShadow = true;
  object.receiveShadow = true;
  object.frustumCulled = false;
  object.raycast = () => {};
  object.name = geometry.uuid;
}
