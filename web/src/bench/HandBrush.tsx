import clsx from "clsx";
import { Hand, Paintbrush, ShieldCheck, ShieldOff, Stamp, Waves, Wind } from "lucide-react";
import { type HandTool, useRoomOf } from "../store/room";
import { Check } from "../ui/Check";
import { Button, Hint, Slider } from "../ui/controls";
import { BrushSize } from "./BrushSize";

const TOOLS: [HandTool, string, string, typeof Hand][] = [
  ["pull", "Pull", "Drag the cloth softly", Hand],
  ["press", "Press", "Bring it to the body, to the offset", Stamp],
  ["puff", "Puff", "Swell it outwards", Wind],
  ["iron", "Iron", "Smooth it", Waves],
  ["protect", "Protect", "Paint where no tool may move it", ShieldCheck],
  ["release", "Release", "Take the protection off again", ShieldOff],
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
          label="Press to"
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
          both sides
        </Check>
        {hand.tool === "pull" && (
          <Check checked={hand.elastic} onChange={(on) => change({ elastic: on })}>
            elastic
          </Check>
        )}
      </div>
      <p className="mt-1 text-[11.5px] text-soft">
        <Paintbrush size={11} className="mr-1 inline" />
        Drag on the piece; the wheel over it sizes the brush, Escape lets go.
        {hand.last !== null && ` Last update ${hand.last.toFixed(1)} ms.`}
      </p>
    </div>
  );
}
