import { DoubleSide } from "three";
import { Stage } from "../../stage/Stage";
import { toneOf } from "../../theme/palette";
import { TEXT } from "./texts";
import type { Sewing } from "./useSewing";

/** The wearer with the panels about it, as they are sewn. */
export function SewnStage({ sewing, colour }: { sewing: Sewing; colour: string }) {
  const { meshes, told } = sewing;
  return (
    <Stage label={TEXT.thePanelsOnTheWearer}>
      {meshes && (
        <>
          <mesh geometry={meshes.body} castShadow>
            <meshLambertMaterial color={toneOf("clayPale")} />
          </mesh>
          {meshes.under && (
            <mesh geometry={meshes.under} castShadow>
              <meshLambertMaterial vertexColors side={DoubleSide} />
            </mesh>
          )}
          <mesh geometry={meshes.cloth} frustumCulled={false} castShadow>
            <meshLambertMaterial color={colour} side={DoubleSide} />
          </mesh>
          {told && told.seam_open > 0.004 && (
            <lineSegments geometry={meshes.threads} frustumCulled={false}>
              <lineBasicMaterial color={toneOf("heron")} />
            </lineSegments>
          )}
        </>
      )}
    </Stage>
  );
}
