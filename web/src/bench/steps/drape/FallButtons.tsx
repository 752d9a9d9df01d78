import { Pause, Play, RotateCw, StepForward } from "lucide-react";
import { Button } from "../../../ui/controls";
import { PanelButtons } from "../../../ui/PanelButtons";
import type { StepProps } from "../../step";
import { TEXT } from "./texts";

interface Props {
  falling: StepProps["falling"];
  /** Whether there is all it takes to let it fall. */
  ready: boolean;
  onPlay(): void;
}

/** Play, stop, replay, go on, and put the piece back as it was. */
export function FallButtons({ falling, ready, onPlay }: Props) {
  const { told, playing, replaying, fromKept } = falling;
  return (
    <PanelButtons>
      {playing ? (
        <Button look="primary" onClick={falling.stop}>
          <Pause size={13} /> {TEXT.stop}
        </Button>
      ) : (
        <Button look="primary" disabled={!ready || !falling.ready} onClick={onPlay}>
          <Play size={13} /> {told && !fromKept ? TEXT.fromTheStart : TEXT.letItFall}
        </Button>
      )}
      {told && !playing && told.have > 1 && (
        <Button aria-pressed={replaying} onClick={replaying ? falling.stop : falling.replay}>
          {replaying ? <Pause size={13} /> : <RotateCw size={13} />} {replaying ? TEXT.hold : TEXT.replay}
        </Button>
      )}
      {told && !playing && !fromKept && (
        <Button onClick={falling.goOn}>
          <StepForward size={13} /> {told.have < told.of ? TEXT.goOn : TEXT.aFrameMore}
        </Button>
      )}
      {told && (
        <Button look="quiet" onClick={falling.leave}>
          {TEXT.putItBack}
        </Button>
      )}
    </PanelButtons>
  );
}
