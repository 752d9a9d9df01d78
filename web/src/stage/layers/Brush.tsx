import { Quaternion, Vector3 } from "three";
import { useTones } from "../../theme/palette";
import type { Hit } from "./ray";

const UP = new Vector3(0, 0, 1);

/** The ring of a brush lying on the cloth. */
export function Brush({ at, radius, faint = false }: { at: Hit; radius: number; faint?: boolean }) {
  const tone = useTones();
  const turn = new Quaternion().setFromUnitVectors(UP, at.normal.clone().normalize());
  return (
    <mesh position={at.point} quaternion={turn} renderOrder={12} raycast={() => {}}>
      <ringGeometry args={[radius * 0.97, radius, 64]} />
      <meshBasicMaterial color={tone("ink")} depthTest={false} transparent opacity={faint ? 0.35 : 0.85} side={2} />
    </mesh>
  );
}

/** Where the brush lies on the other side. */
export function mirrored(hit: Hit): Hit {
  const flip = new Vector3(-1, 1, 1);
  return { ...hit, point: hit.point.clone().multiply(flip), normal: hit.normal.clone().multiply(flip) };
}
