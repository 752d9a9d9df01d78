import { type Camera, Mesh, Raycaster, Vector2, Vector3 } from "three";
import { item } from "../../recipe/at";
import type { PieceMesh } from "../mesh/piece";

export interface Hit {
  vertex: number;
  point: Vector3;
  normal: Vector3;
}

/** Where a pointer event meets a piece as it lies at rest: the nearest vertex of the face, the point and the way it faces. */
export function hitPiece(
  event: PointerEvent | WheelEvent,
  canvas: HTMLElement,
  camera: Camera,
  piece: PieceMesh,
): Hit | null {
  const body = new Mesh(piece.geometry);
  (body.material as { side: number }).side = 2;
  return hitMesh(event, canvas, camera, body, piece);
}

/** The same on another shape of the piece: as it is posed. */
export function hitMesh(
  event: PointerEvent | WheelEvent,
  canvas: HTMLElement,
  camera: Camera,
  body: Mesh,
  piece: PieceMesh,
): Hit | null {
  const found = rayAt(event, canvas, camera).intersectObject(body, false)[0];
  if (!found?.face) return null;
  const position = body.geometry.getAttribute("position");
  const corners = [found.face.a, found.face.b, found.face.c];
  let best = item(corners, 0);
  let least = Number.POSITIVE_INFINITY;
  for (const corner of corners) {
    const gap = new Vector3().fromBufferAttribute(position, corner).distanceTo(found.point);
    if (gap < least) {
      least = gap;
      best = corner;
    }
  }
  return {
    vertex: piece.source.rows?.[best] ?? best,
    point: found.point,
    normal: found.face.normal.clone(),
  };
}

/** Where a pointer event lies on the canvas, in device coordinates: -1 to 1, up. */
export function deviceAt(event: { clientX: number; clientY: number }, canvas: HTMLElement): [number, number] {
  const box = canvas.getBoundingClientRect();
  return [((event.clientX - box.left) / box.width) * 2 - 1, 1 - ((event.clientY - box.top) / box.height) * 2];
}

export function rayAt(event: { clientX: number; clientY: number }, canvas: HTMLElement, camera: Camera): Raycaster {
  const ray = new Raycaster();
  ray.setFromCamera(new Vector2(...deviceAt(event, canvas)), camera);
  return ray;
}
