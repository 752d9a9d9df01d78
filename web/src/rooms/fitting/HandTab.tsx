import clsx from "clsx";
import { Hand, Paintbrush, ShieldCheck, ShieldOff, Stamp, Waves, Wind } from "lucide-react";
import type { Step } from "../../api/client";
import { type HandTool, useRoom } from "../../state/room";
import { Button, Hint, NumberField, Slider } from "../../ui/controls";
import { workOf } from "./recipe";
import type { WorkProps } from "./WorkPanel";

const TOOLS: [HandTool, string, string, typeof Hand][] = [
  ["pull", "Pull", "Drag the cloth softly", Hand],
  ["press", "Press", "Bring it to the body, to the offset", Stamp],
  ["puff", "Puff", "Swell it outwards", Wind],
  ["iron", "Iron", "Smooth it", Waves],
  ["protect", "Protect", "Paint where no tool may move it", ShieldCheck],
  ["release", "Release", "Take the protection off again", ShieldOff],
];

/** The hand tools and their brush. */
export function HandTab({ piece, mesh, onWork }: WorkProps) {
  const { hand, set } = useRoom();
  const work = workOf(piece.recipe);
  const change = (to: Partial<typeof hand>) => set({ hand: { ...hand, ...to } });
  const last = work.at(-1);
  const lattice = last?.kind === "lattice" ? last : null;
  const cells = lattice?.cells ?? [2, 2, 2];
  const round = () => {
    const box = boxOf(mesh?.source.points);
    if (!box) return;
    const step: Step = { kind: "lattice", low: box[0], high: box[1], cells: [2, 3, 2], knots: [] };
    onWork([...work, step], "Lattice");
    change({ tool: null });
  };
  return (
    <div>
      <div className="grid grid-cols-3 gap-1">
        {TOOLS.map(([tool, label, hint, Icon]) => (
          <Hint key={tool} text={hint}>
            <Button
              aria-pressed={hand.tool === tool}
              className={clsx("px-0.5", hand.tool === tool && "border-heron bg-heron/10")}
              onClick={() => change({ tool: hand.tool === tool ? null : tool })}
            >
              <Icon size={13} className="shrink-0" /> {label}
            </Button>
          </Hint>
        ))}
      </div>
      <Slider
        label="Radius"
        min={0.8}
        max={40}
        step={0.2}
        value={hand.radius * 100}
        shown={`${(hand.radius * 100).toFixed(1)} cm`}
        onChange={(v) => change({ radius: v / 100 })}
      />
      <Slider
        label="Strength"
        min={0.05}
        max={1}
        step={0.05}
        value={hand.strength}
        shown={`${Math.round(hand.strength * 100)} %`}
        onChange={(v) => change({ strength: v })}
      />
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
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={hand.mirror} onChange={(e) => change({ mirror: e.target.checked })} /> both
          sides
        </label>
        {hand.tool === "pull" && (
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={hand.elastic} onChange={(e) => change({ elastic: e.target.checked })} />{" "}
            elastic
          </label>
        )}
      </div>
      <p className="mt-1 text-[11.5px] text-soft">
        <Paintbrush size={11} className="mr-1 inline" />
        Drag on the piece; the wheel over it sizes the brush, Escape lets go.
        {hand.last !== null && ` Last update ${hand.last.toFixed(1)} ms.`}
      </p>
      <div className="mt-2 flex items-end gap-1.5 border-t border-dashed border-rule pt-2">
        {lattice ? (
          <>
            {["Across", "Up", "Deep"].map((name, i) => (
              <NumberField
                key={name}
                label={name}
                unit=""
                digits={0}
                value={cells[i]}
                onCommit={(v) => {
                  const now = cells.map((c, k) =>
                    k === i ? Math.min(6, Math.max(2, Math.round(v))) : c,
                  ) as typeof lattice.cells;
                  onWork([...work.slice(0, -1), { ...lattice, cells: now, knots: [] }], "Lattice cells");
                }}
              />
            ))}
            <Button onClick={() => onWork(work.slice(0, -1), "Without the lattice")}>Remove</Button>
          </>
        ) : (
          <Hint text="Knots round the piece; pull one and the cloth near it follows">
            <Button onClick={round} disabled={!mesh}>
              Lattice round it
            </Button>
          </Hint>
        )}
      </div>
    </div>
  );
}

function boxOf(points: Float32Array | undefined): [[number, number, number], [number, number, number]] | null {
  if (!points?.length) return null;
  const low: [number, number, number] = [9, 9, 9];
  const high: [number, number, number] = [-9, -9, -9];
  for (let i = 0; i < points.length; i++) {
    low[i % 3] = Math.min(low[i % 3], points[i] - 0.01);
    high[i % 3] = Math.max(high[i % 3], points[i] + 0.01);
  }
  return [low, high];
}
