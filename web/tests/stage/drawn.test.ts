import { type BufferAttribute, BufferGeometry, IcosahedronGeometry, SphereGeometry } from "three";
import { mergeVertices } from "three/examples/jsm/utils/BufferGeometryUtils.js";
import { describe, expect, it } from "vitest";
import { f32, i32, item } from "../../src/recipe/at";
import { build, type Delta, normalsOf, reshape, STEP, spread } from "../../src/stage/mesh/drawn";

/** A closed mesh with shared vertices, and its texture coordinates by corner. */
function ball(made: BufferGeometry = new SphereGeometry(0.5, 9, 7)) {
  const uv = made.getAttribute("uv");
  const index = made.getIndex();
  const bare = new BufferGeometry();
  bare.setAttribute("position", made.getAttribute("position"));
  if (index) bare.setIndex(index);
  const welded = mergeVertices(bare, 1e-5);
  const corners = welded.getIndex();
  const points = Float32Array.from(welded.getAttribute("position").array);
  const triangles = Int32Array.from(corners ? corners.array : []);
  const count = index ? index.count : made.getAttribute("position").count;
  const places = new Float32Array(2 * count);
  for (let c = 0; c < count; c++) {
    const row = index ? index.getX(c) : c;
    places.set([uv.getX(row), uv.getY(row)], 2 * c);
  }
  return { points, triangles, places };
}

describe("normals of what is drawn", () => {
  it("are those three.js computes for the same mesh", () => {
    const { points, triangles } = ball(new IcosahedronGeometry(0.5, 2));
    const theirs = build(points, triangles).geometry;
    theirs.computeVertexNormals();
    const ours = new Float32Array(points.length);
    normalsOf(points, triangles, ours);
    const normal = theirs.getAttribute("normal");
    for (let v = 0; v < normal.count; v++) {
      const dot =
        f32(ours, 3 * v) * normal.getX(v) +
        f32(ours, 3 * v + 1) * normal.getY(v) +
        f32(ours, 3 * v + 2) * normal.getZ(v);
      expect(dot).toBeGreaterThan(0.9999);
    }
  });

  it("are none, and not undefined, where a face has no area", () => {
    const out = new Float32Array(9);
    normalsOf(new Float32Array(9), new Int32Array([0, 1, 2]), out);
    expect([...out]).toEqual(new Array(9).fill(0));
  });
});

describe("a mesh that is split where its texture has seams", () => {
  const { points, triangles, places } = ball();
  const { geometry, rows } = build(points, triangles, places);

  it("draws every corner at its vertex, with its own texture coordinates", () => {
    const position = geometry.getAttribute("position");
    const uv = geometry.getAttribute("uv");
    const index = geometry.getIndex();
    expect(rows).not.toBeNull();
    expect(index?.count).toBe(triangles.length);
    triangles.forEach((vertex, corner) => {
      const at = index?.getX(corner) ?? -1;
      expect(i32(rows ?? new Int32Array(), at)).toBe(vertex);
      expect(position.getX(at)).toBeCloseTo(f32(points, 3 * vertex), 6);
      expect(uv.getX(at)).toBeCloseTo(f32(places, 2 * corner), 4);
      expect(uv.getY(at)).toBeCloseTo(f32(places, 2 * corner + 1), 4);
    });
  });

  it("is lit without a seam: points of one vertex face one way", () => {
    const normal = geometry.getAttribute("normal");
    const first = new Map<number, number>();
    rows?.forEach((vertex, at) => {
      const before = first.get(vertex);
      if (before === undefined) first.set(vertex, at);
      else expect(normal.getX(at)).toBe(normal.getX(before));
    });
    expect(first.size).toBe(points.length / 3);
    expect(normal.count).toBeGreaterThan(first.size);
  });

  it("spreads values of vertices to every point drawn of them", () => {
    const values = Float32Array.from({ length: points.length / 3 }, (_, v) => v);
    expect([...spread(values, rows, 1)]).toEqual([...(rows ?? [])]);
    expect(spread(values, null, 1)).toBe(values);
  });
});

describe("shapes summed into a mesh", () => {
  const { points, triangles, places } = ball();
  const deltas: Delta[] = [
    { rows: new Int32Array([0, 5]), steps: new Int16Array([100, 0, -50, 7, 8, 9]) },
    { rows: new Int32Array([5]), steps: new Int16Array([0, 300, 0]) },
    { rows: new Int32Array([]), steps: new Int16Array([]) },
  ];
  const weights = [0.5, -1, 3];
  const summed = (split: boolean) => {
    const { geometry, rows } = build(points, triangles, split ? places : undefined);
    const source = { points, triangles, deltas, rows };
    reshape(geometry, source, (s) => item(weights, s));
    return { geometry, source, rows };
  };

  it("move each vertex by the weighted sum of its moves, split or not", () => {
    const wanted = Float64Array.from(points);
    deltas.forEach(({ rows, steps }, s) => {
      rows.forEach((row, i) => {
        for (let a = 0; a < 3; a++)
          wanted[3 * row + a] = (wanted[3 * row + a] ?? 0) + item(weights, s) * STEP * (steps[3 * i + a] ?? 0);
      });
    });
    for (const split of [false, true]) {
      const { geometry, rows } = summed(split);
      const position = geometry.getAttribute("position");
      for (let at = 0; at < position.count; at++) {
        const vertex = rows ? i32(rows, at) : at;
        expect(position.getX(at)).toBeCloseTo(wanted[3 * vertex] ?? 0, 6);
        expect(position.getY(at)).toBeCloseTo(wanted[3 * vertex + 1] ?? 0, 6);
        expect(position.getZ(at)).toBeCloseTo(wanted[3 * vertex + 2] ?? 0, 6);
      }
    }
  });

  it("are not summed again while nothing has changed, and come back to rest exactly", () => {
    const { geometry, source } = summed(false);
    const position = geometry.getAttribute("position") as BufferAttribute;
    const before = position.version;
    reshape(geometry, source, (s) => item(weights, s));
    expect(position.version).toBe(before);
    reshape(geometry, source, () => 0);
    expect(position.version).toBeGreaterThan(before);
    expect([...position.array]).toEqual([...points]);
  });

  it("are summed again from points shown before the server has kept them", () => {
    const { geometry, source } = summed(false);
    const own = { ...source, points: points.slice() };
    own.points[0] = f32(own.points, 0) + 0.25;
    geometry.userData.dirty = true;
    reshape(geometry, own, () => 0);
    expect(geometry.getAttribute("position").getX(0)).toBeCloseTo(f32(points, 0) + 0.25, 6);
  });
});
