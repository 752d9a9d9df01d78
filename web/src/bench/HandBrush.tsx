import clsx from "clsx";
import { Hand, Paintbrush, ShieldCheck, ShieldOff, Stamp, Waves, Wind } from "lucide-react";
import { type HandTool, useRoomOf } from "../store/room";
import { Check } from "../ui/Check";
import { Button, Hint, Slider } from "../ui/controls";
import { BrushSize } from "./BrushSize";
import { TEXT } from "./texts";

const TOOLS: [HandTool, string, string, typeof Hand][] = [
  ["pull", TEXT.pull, TEXT.dragTheClothSoftly, Hand],
  ["press", TEXT.press, TEXT.bringItToThe, Stamp],
  ["puff", TEXT.puff, TEXT.swellItOutwards, Wind],
  ["iron", TEXT.iron, TEXT.smoothIt, Waves],
  ["protect", TEXT.protect, TEXT.paintWhereNoTool, ShieldCheck],
  ["release", TEXT.release, TEXT.takeTheProtectionOff, ShieldOff],
];

/** The hand tools, their size and strength; `posed` where they work on the piece in a pose. */
export function HandBrush({ posed = false }: { posed?: boolean }) {
  const { hand, set } = useRoomOf("hand", "set");
  const change = (to: Partial<typeof hand>) => set({ hand: { ...hand, ...to } });
  return (
    <div>
      <div className="grid grid-cols-3 gap-1">
        {TOOLS.filter(([tool]) => !posed || (tool !== "protect" && tool !== "release")).map(
          ([tool, label, hint, Icon]) => (
            <Hint key={tool} text={hint}>
              <Button
                aria-pressed={hand.tool === tool}
                className={clsx("px-0.5", hand.tool === tool && "border-heron bg-heron/10")}
                onClick={() => change({ tool: hand.tool === tool ? null : tool })}
              >
                <Icon size={13} className="shrink-0" /> {label}
              </Button>
            </Hint>
          ),
        )}
      </div>
      <BrushSize radius={hand.radius} widest={40} strength={hand.strength} onChange={change} />
      {hand.tool === "press" && (
        <Slider
          label={TEXT.pressTo}
          min={0}
          max={20}
          step={0.5}
          value={hand.offset * 1000}
          shown={`${(hand.offset * 1000).toFixed(1)} mm`}
          onChange={(v) => change({ offset: v / 1000 })}
        />
      )}
      <div className="mt-1 flex gap-4">
        <Check checked={hand.mirror} onChange={(on) => change({ mirror: on })}>
          {TEXT.bothSides}
        </Check>
        {hand.tool === "pull" && (
          <Check checked={hand.elastic} onChange={(on) => change({ elastic: on })}>
            {TEXT.elastic}
          </Check>
        )}
      </div>
      <p className="mt-1 text-[11.5px] text-soft">
        <Paintbrush size={11} className="mr-1 inline" />
        {TEXT.dragOnThePiece}
        {hand.last !== null && TEXT.lastUpdateMs(hand.last.toFixed(1))}
      </p>
    </div>
  );
}
