import { Download, Film } from "lucide-react";
import type { DrapeNotes } from "../../../api/drape";
import { useRoomOf } from "../../../store/room";
import { Button, Hint, Slider } from "../../../ui/controls";
import { Choice } from "../../../ui/Select";
import { TEXT } from "./texts";
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
  return TEXT.cmThanWorn(cm, metres < 0 ? "higher" : "lower");
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
        label={TEXT.frameOf(frame + 1, Math.max(told.of, told.have))}
        min={0}
        max={Math.max(told.have - 1, 1)}
        step={1}
        value={frame}
        shown={`${((frame + 1) / 24).toFixed(2)} s`}
        onChange={falling.show}
      />
      <p className="text-[12px] text-soft" aria-live="off">
        {TEXT.strainMeanAtThe(
          (100 * told.strain_mean).toFixed(1),
          (100 * told.strain_99).toFixed(1),
          sunkBy(told.sunk),
          told.did === "next" && told.ms ? TEXT.msAFrame(told.ms.toFixed(0)) : "",
        )}
      </p>
      <p className={`text-[12px] ${told.bending_met < 0.8 ? "text-amber" : "text-soft"}`}>
        {TEXT.ofItsSetStiffness((100 * told.bending_met).toFixed(0), (100 * told.shear_met).toFixed(0))}
      </p>
      <Choice
        word={TEXT.shows}
        value={fallen}
        onChoose={(v) => {
          set({ fallen: v as typeof fallen });
          if (!playing) falling.show(frame);
        }}
      >
        <option value="cloth">{TEXT.theCloth}</option>
        <option value="strain">{TEXT.itsStrain}</option>
        <option value="contact">{TEXT.howFarItLies}</option>
      </Choice>
      {falling.fromKept || <p className="text-[12px] text-soft">{TEXT.dragTheClothOn}</p>}
      {!told.there && <p className="text-[12px] text-soft">{TEXT.stillMovingIntoThe}</p>}
      <Button
        look="primary"
        className="mt-1.5"
        disabled={playing || falling.replaying || falling.fromKept || !told.there}
        onClick={() => onKeep(frame)}
      >
        {TEXT.keepThisFrame}
      </Button>
      <Hint text={TEXT.everyFrameThatWas(size.toFixed(1))}>
        <Button
          look="quiet"
          className="mt-1.5"
          disabled={playing || falling.fromKept}
          onClick={() => falling.keepAll(label)}
        >
          <Film size={13} /> {TEXT.keepAll}
        </Button>
      </Hint>
      <Hint text={TEXT.everyFrameThatWasPlayed}>
        <Button look="quiet" className="mt-1.5" disabled={playing || falling.fromKept} onClick={falling.file}>
          <Download size={13} /> {TEXT.usd}
        </Button>
      </Hint>
    </div>
  );
}
