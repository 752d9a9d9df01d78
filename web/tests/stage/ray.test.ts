// @vitest-environment jsdom
import { BufferAttribute, BufferGeometry, Mesh, PerspectiveCamera, Vector3 } from "three";
import { expect, it } from "vitest";
import { deviceAt, hitMesh, hitPiece, rayAt } from "../../src/stage/layers/ray";
import type { PieceMesh } from "../../src/stage/mesh/piece";

const canvas = { getBoundingClientRect: () => ({ left: 100, top: 50, width: 800, height: 400 }) } as HTMLElement;
const at = (clientX: number, clientY: number) => ({ clientX, clientY }) as PointerEvent;

/** A square of cloth, two metres wide, that stands at z = 0 and looks at the camera; `rows` are its received rows. */
function cloth(rows: number[] | null): PieceMesh {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(new Float32Array([-1, -1, 0, 1, -1, 0, 1, 1, 0, -1, 1, 0]), 3));
  geometry.setIndex([0, 1, 2, 0, 2, 3]);
  return { geometry, source: { rows: rows && new Int32Array(rows) } } as unknown as PieceMesh;
}

function camera(z = 5): PerspectiveCamera {
  const lens = new PerspectiveCamera(40, 2, 0.1, 50);
  lens.position.set(0, 0, z);
  lens.lookAt(0, 0, 0);
  lens.updateMatrixWorld();
  return lens;
}

/** The pixel at which a point is seen, by the camera's own matrices. */
function pixel(point: Vector3, lens: PerspectiveCamera): PointerEvent {
  const seen = point.clone().project(lens);
  return at(100 + ((seen.x + 1) / 2) * 800, 50 + ((1 - seen.y) / 2) * 400);
}

it("puts the corners and the middle of the canvas where the device has them, wherever the canvas lies on the page", () => {
  expect(deviceAt(at(100, 50), canvas)).toEqual([-1, 1]);
  expect(deviceAt(at(900, 450), canvas)).toEqual([1, -1]);
  expect(deviceAt(at(500, 250), canvas)).toEqual([0, 0]);
});

it("casts through the point that is seen at the pixel", () => {
  const lens = camera();
  for (const point of [new Vector3(0.3, -0.6, 0), new Vector3(-0.9, 0.8, 0.5), new Vector3(0, 0, -2)]) {
    expect(rayAt(pixel(point, lens), canvas, lens).ray.distanceToPoint(point)).toBeLessThan(1e-5);
  }
});

it("meets a piece at the point seen, and names the vertex that is nearest there", () => {
  const lens = camera();
  const spots: [Vector3, number][] = [
    [new Vector3(-0.8, -0.9, 0), 0],
    [new Vector3(0.9, -0.7, 0), 1],
    [new Vector3(0.7, 0.9, 0), 2],
    [new Vector3(-0.9, 0.6, 0), 3],
  ];
  for (const [point, vertex] of spots) {
    const hit = hitPiece(pixel(point, lens), canvas, lens, cloth(null));
    expect(hit?.vertex).toBe(vertex);
    expect(hit?.point.distanceTo(point)).toBeLessThan(1e-5);
    expect(hit?.normal.z).toBeCloseTo(1, 6);
  }
});

it("gives the row a vertex was received as, so that a stroke outlives a cut", () => {
  const lens = camera();
  const hit = hitPiece(pixel(new Vector3(0.9, 0.9, 0), lens), canvas, lens, cloth([40, 41, 42, 43]));
  expect(hit?.vertex).toBe(42);
});

it("meets cloth from its back too, and nothing beside it", () => {
  expect(hitPiece(pixel(new Vector3(0.5, 0, 0), camera(-5)), canvas, camera(-5), cloth(null))).not.toBeNull();
  expect(hitPiece(at(105, 55), canvas, camera(), cloth(null))).toBeNull();
});

it("meets another form of the piece where that lies: as it is posed", () => {
  const lens = camera();
  const posed = cloth(null).geometry.clone().translate(3, 0, 0);
  const there = pixel(new Vector3(3.2, 0.2, 0), lens);
  expect(hitPiece(there, canvas, lens, cloth(null))).toBeNull();
  expect(hitMesh(there, canvas, lens, new Mesh(posed), cloth(null))?.point.x).toBeCloseTo(3.2, 5);
});
