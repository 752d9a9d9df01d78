import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry, Line, LineBasicMaterial, LineLoop } from "three";
import type { Measure } from "../../api/client";
import { toneOf } from "../../theme/palette";

/** The measures as tapes round the figure; the one pointed at is inked, and drawn over everything. */
export function Tapes({ measures, chosen }: { measures: Measure[]; chosen: string | null }) {
  const invalidate = useThree((s) => s.invalidate);
  const tapes = useMemo(
    () =>
      measures
        .filter((m) => m.group !== "heights" || m.name === chosen)
        .map((m) => {
          const geometry = new BufferGeometry();
          geometry.setAttribute("position", new BufferAttribute(new Float32Array(m.line.flat()), 3));
          const here = m.name === chosen;
          const material = new LineBasicMaterial({
            color: toneOf(here ? "tape" : "clear"),
            transparent: true,
            opacity: here ? 1 : 0.45,
            depthTest: !here,
          });
          const line = m.closed ? new LineLoop(geometry, material) : new Line(geometry, material);
          line.renderOrder = here ? 2 : 1;
          line.raycast = () => {};
          return line;
        }),
    [measures, chosen],
  );
  useEffect(() => {
    invalidate();
    return () => {
      for (const tape of tapes) {
        tape.geometry.dispose();
        (tape.material as LineBasicMaterial).dispose();
      }
    };
  }, [tapes, invalidate]);
  return (
    <>
      {tapes.map((tape) => (
        <primitive key={tape.uuid} object={tape} />
      ))}
    </>
  );
}
