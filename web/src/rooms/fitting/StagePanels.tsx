import type { Production } from "../../api/client";
import type { Fitting } from "../../bench/useFitting";
import { useRoomOf } from "../../store/room";
import { MeasurePanel } from "../figure/MeasurePanel";
import { PosePanel } from "../figure/PosePanel";
import { PosingPanel } from "../figure/PosingPanel";
import { ShapePanel } from "../figure/ShapePanel";
import { WearPanel } from "../figure/WearPanel";
import { ShotsPanel } from "../sheet/ShotsPanel";

interface Props {
  production: Production;
  fitting: Fitting;
  measures: Parameters<typeof MeasurePanel>[0]["measures"];
}

/** The panel that is open over the stage, if any. */
export function StagePanels({ production, fitting, measures }: Props) {
  const room = useRoomOf("panel", "posing");
  const { posing } = room;
  return (
    <>
      {fitting.wearer && (
        <>
          {room.panel === "shape" && (
            <ShapePanel
              key={fitting.wearer.body}
              shapes={fitting.own?.shapes ?? production.shapes}
              wearer={fitting.wearer}
            />
          )}
          {room.panel === "measures" && !fitting.own && (
            <MeasurePanel wearer={fitting.wearer} measures={measures} lengths={production.settings.lengths} />
          )}
          {room.panel === "poses" && posing && <PosingPanel posing={posing} />}
          {room.panel === "poses" && !posing && <PosePanel production={production} wearer={fitting.wearer} />}
        </>
      )}
      {room.panel === "shots" && <ShotsPanel production={production} fitting={fitting} />}
      {room.panel === "wear" && <WearPanel production={production} />}
    </>
  );
}
