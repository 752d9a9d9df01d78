import { useThree } from "@react-three/fiber";
import { type RefObject, useEffect, useRef } from "react";
import { BufferAttribute, type BufferGeometry } from "three";
import { u32 } from "../recipe/at";
import type { MapMaterial, Mode } from "./mesh/cloth";
import { spread } from "./mesh/drawn";
import type { Dressed } from "./mesh/dressed";
import type { Figure } from "./mesh/figure";
import type { PieceMesh } from "./mesh/piece";

export interface Worn {
  id: number;
  mesh: PieceMesh;
  see: "solid" | "through";
  mode: Mode;
  wire: boolean;
  /** What the mode shows for each vertex, or for each point drawn (seams split them) if `drawn`. */
  measure: Float32Array | null;
  drawn?: boolean;
}

/** Skin that is missed is drawn as if it stood out so far (metres). */
const MISSED = 0.02;

/** Leave out the skin that pieces hide, but where it is missed; returns each figure's whole skin. */
export function useHiddenSkin(figure: Figure, worn: Worn[], holes: Int32Array | null | undefined) {
  const invalidate = useThree((s) => s.invalidate);
  const whole = useRef(new WeakMap<Figure, Uint32Array>());
  useEffect(() => {
    const hidden = new Set(worn.flatMap(({ mesh }) => (mesh.hidden ? [...mesh.hidden] : [])));
    const kept = whole.current.get(figure) ?? (figure.geometry.getIndex()?.array as Uint32Array);
    whole.current.set(figure, kept);
    for (const face of holes ?? []) hidden.delete(face);
    figure.geometry.setIndex(
      new BufferAttribute(hidden.size ? kept.filter((_, i) => !hidden.has(Math.floor(i / 3))) : kept, 1),
    );
    invalidate();
  }, [figure, worn, holes, invalidate]);
  return whole;
}

interface Maps {
  figure: Figure;
  rig: { material: MapMaterial };
  pieces: (Dressed & { mesh: PieceMesh; id: number })[];
  worn: Worn[];
  standsOut: Float32Array | null;
  holes: Int32Array | null | undefined;
  bodyMode: Mode;
  wire: boolean;
  whole: RefObject<WeakMap<Figure, Uint32Array>>;
}

/** Colour body and pieces by what is measured of them, and draw them solid, see-through or as edges. */
export function useMaps({ figure, rig, pieces, worn, standsOut, holes, bodyMode, wire, whole }: Maps) {
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => {
    const kept = whole.current.get(figure);
    const marked = holes?.length && kept && standsOut ? standsOut.slice() : standsOut;
    if (marked && kept && marked !== standsOut)
      for (const face of holes ?? []) for (let k = 0; k < 3; k++) marked[u32(kept, 3 * face + k)] = MISSED;
    fill(figure.geometry, marked, figure.own);
    rig.material.show(bodyMode);
    rig.material.wireframe = wire;
    worn.forEach((w) => {
      const piece = pieces.find((p) => p.id === w.id);
      if (!piece) return;
      fill(piece.mesh.geometry, w.measure && (w.drawn ? w.measure : spread(w.measure, piece.mesh.source.rows, 1)));
      for (const material of piece.materials) {
        material.show(w.mode);
        material.wireframe = w.wire;
        const through = w.see === "through";
        if (material.transparent !== through) material.needsUpdate = true;
        material.transparent = through;
        material.opacity = through ? 0.38 : 1;
        material.depthWrite = !through;
      }
    });
    invalidate();
  }, [figure, rig, pieces, worn, standsOut, holes, bodyMode, wire, whole, invalidate]);
}

function fill(geometry: BufferGeometry, values: Float32Array | null, own?: number): void {
  const attribute = geometry.getAttribute("aMeasure");
  const array = attribute.array as Float32Array;
  // the server measures the finer level, whose first vertices are the coarser one's
  const count = own ?? array.length;
  array.fill(0);
  if (values && values.length >= count) array.set(values.subarray(0, count));
  attribute.needsUpdate = true;
}
