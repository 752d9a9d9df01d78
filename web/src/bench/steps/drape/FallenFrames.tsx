import { Download, Film } from "lucide-react";
import type { DrapeNotes } from "../../../api/drape";
import { useRoomOf } from "../../../store/room";
import { Button, Hint, Slider } from "../../../ui/controls";
import { Choice } from "../../../ui/Select";
import type { Falling } from "./useFalling";

interface Props {
  falling: Falling;
  told: DrapeNotes;
  /** What the whole fall is called when it is kept. */
  label: string;
  onKeep(frame: number): void;
}

function sunkBy(metres: number): string {
  const cm = Math.abs(100 * metres).toFixed(1);
  return `${cm} cm ${metres < 0 ? "higher" : "lower"} than worn`;
}

/** The frames that have been played: scrubbed, looked at, and kept, one or all. */
export function FallenFrames({ falling, told, label, onKeep }: Props) {
  const { fallen, set } = useRoomOf("fallen", "set");
  const { playing } = falling;
  const frame = told.frame ?? 0;
  const size = (told.vertices * told.have * 6) / 1e6; // three moves of two bytes
  return (
    <div className="mt-1.5">
      <Slider
        label={`Frame ${frame + 1} of ${Math.max(told.of, told.have)}`}
        min={0}
        max={Math.max(told.have - 1, 1)}
        step={1}
        value={frame}
        shown={`${((frame + 1) / 24).toFixed(2)} s`}
        onChange={falling.show}
      />
      <p className="text-[12px] text-soft" aria-live="off">
        Strain {(100 * told.strain_mean).toFixed(1)} % mean, {(100 * told.strain_99).toFixed(1)} % at the 99th
        percentile; it lies {sunkBy(told.sunk)}
        {told.did === "next" && told.ms ? ` · ${told.ms.toFixed(0)} ms a frame` : ""}
      </p>
      <p className={`text-[12px] ${told.bending_met < 0.8 ? "text-amber" : "text-soft"}`}>
        Of its set stiffness {(100 * told.bending_met).toFixed(0)} % shows in bending and{" "}
        {(100 * told.shear_met).toFixed(0)} % in shear; more substeps, or wider faces, show more.
      </p>
      <Choice
        word="Shows"
        value={fallen}
        onChoose={(v) => {
          set({ fallen: v as typeof fallen });
          if (!playing) falling.show(frame);
        }}
      >
        <option value="cloth">the cloth</option>
        <option value="strain">its strain</option>
        <option value="contact">how far it lies off what it falls on</option>
      </Choice>
      {falling.fromKept || (
        <p className="text-[12px] text-soft">Drag the cloth on the stage to pull it while it falls.</p>
      )}
      {!told.there && (
        <p className="text-[12px] text-soft">
          Still moving into the pose. You can keep a frame once the wearer has arrived.
        </p>
      )}
      <Button
        look="primary"
        className="mt-1.5"
        disabled={playing || falling.replaying || falling.fromKept || !told.there}
        onClick={() => onKeep(frame)}
      >
        Keep this frame
      </Button>
      <Hint
        text={`Every frame that was played, to be seen again here: about ${size.toFixed(1)} MB before it is packed`}
      >
        <Button
          look="quiet"
          className="mt-1.5"
          disabled={playing || falling.fromKept}
          onClick={() => falling.keepAll(label)}
        >
          <Film size={13} /> Keep all
        </Button>
      </Hint>
      <Hint text="Every frame that was played: the body, what is worn under the cloth, and the cloth, point by point">
        <Button look="quiet" className="mt-1.5" disabled={playing || falling.fromKept} onClick={falling.file}>
          <Download size={13} /> USD
        </Button>
      </Hint>
    </div>
  );
}
