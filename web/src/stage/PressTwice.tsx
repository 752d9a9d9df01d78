import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { type Intersection, Mesh, SkinnedMesh } from "three";
import { useRoom } from "../store/room";
import { ON_A_PLACE } from "./framing";
import { rayAt } from "./layers/ray";

/** Pressed twice, the figure or a piece is looked at closely there; pressed twice beside them, or once more, the whole is shown again. */
export function PressTwice() {
  const { gl, camera, scene } = useThree();
  useEffect(() => {
    const frame = (event: MouseEvent) => {
      const { zoom, target, picking, hand, set } = useRoom.getState();
      if (picking || hand.tool) return; // the press is for what is in hand
      const ray = rayAt(event, gl.domElement, camera);
      const hits: Intersection[] = [];
      scene.traverseVisible((object) => {
        // by the library's own way: the stage turns it off, since a moving pointer must not pay for it
        if (object instanceof SkinnedMesh) SkinnedMesh.prototype.raycast.call(object, ray, hits);
        else if (object instanceof Mesh && object.castShadow) Mesh.prototype.raycast.call(object, ray, hits);
      });
      const found = hits.sort((a, b) => a.distance - b.distance)[0];
      const close = target !== null && zoom >= ON_A_PLACE;
      if (!found || close) set({ zoom: 1, target: null });
      else set({ zoom: ON_A_PLACE, target: found.point.toArray() });
    };
    const { domElement } = gl;
    domElement.addEventListener("dblclick", frame);
    return () => domElement.removeEventListener("dblclick", frame);
  }, [gl, camera, scene]);
  return null;
}
