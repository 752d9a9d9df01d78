import { useMemo } from "react";
import { type Move, markPosing, useJoints, usePosingMove } from "../../api/posing";
import { PoseHandles } from "../../stage/layers/PoseHandles";
import type { Figure } from "../../stage/mesh/figure";
import { type Posing, useRoom } from "../../store/room";

interface Props {
  figure: Figure;
  shape: Record<string, number>;
  posing: Posing;
}

/** The joints that are taken hold of while a pose is made: one is picked, or dragged to where it shall be. */
export function StagePosing({ figure, shape, posing }: Props) {
  const joints = useJoints(true);
  const handles = useMemo(
    () => joints.data?.filter((j) => j.handle && (shape.tail || !j.name.startsWith("tail"))).map((j) => j.name) ?? [],
    [joints.data, shape.tail],
  );
  const move = usePosingMove();
  const drag = (joint: string, target: [number, number, number]) => {
    const asked: Move = { kind: "drag", joint, target, shape };
    move(asked, useRoom.getState().posing?.past.at(-1));
  };
  const pick = (joint: string) => {
    markPosing();
    move({ kind: "turn", joint });
  };
  return (
    <PoseHandles
      figure={figure}
      shape={shape}
      rotations={posing.rotations}
      joints={handles}
      chosen={posing.joint}
      onPick={pick}
      onDrag={drag}
    />
  );
}
