import { Plus, Search, Square, X } from "lucide-react";
import { useState } from "react";
import type { Rotations } from "../../api/client";
import { type HuntFound, useHunt } from "../../api/hunts";
import { useOwnPose } from "../../api/posing";
import { useRoomOf } from "../../store/room";
import { Button } from "../../ui/controls";
import { Select } from "../../ui/Select";

const REACH = [
  [0.35, "small movements"],
  [0.5, "working movements"],
  [0.7, "wide movements"],
  [0.9, "the ends of every joint"],
] as const;

/** Looks for failures no one thought of: random poses on every wearer and on mixes of them; the worst are offered as poses. */
export function HuntPanel({ onClose }: { onClose(): void }) {
  const { hunt, start, stop, addWearer } = useHunt();
  const { keep } = useOwnPose();
  const { set, say } = useRoomOf("set", "say");
  const [poses, setPoses] = useState(24);
  const [share, setShare] = useState(0.5);
  const [mixes, setMixes] = useState(3);
  const running = hunt?.state === "running";
  const look = (f: HuntFound) => {
    const posing = { rotations: f.rotations as Rotations, joint: null, degrees: [], short: 0, past: [], next: [] };
    set({ wearer: f.wearer, posing, panel: "poses", sheet: false, live: null });
  };
  const offer = (f: HuntFound, label: string) =>
    keep.mutate(
      { label, rotations: f.rotations as Rotations },
      { onSuccess: () => say({ kind: "done", text: `${label} stands on the pose axis.` }) },
    );
  return (
    <section
      aria-label="Hunt"
      className="relative max-h-[55%] shrink-0 overflow-auto border-b border-rule bg-card px-5 py-3"
    >
      <header className="flex flex-wrap items-center gap-x-2.5 gap-y-2 pr-8">
        <h3 className="font-title text-[16px] font-semibold">Hunt for failures</h3>
        <div className="flex items-center gap-1.5">
          <Count label="Random poses" least={1} most={400} value={poses} onChange={setPoses} />
          <span className="text-soft">random poses of</span>
          <Select label="How far" className="w-40" value={share} onChoose={(v) => setShare(Number(v))}>
            {REACH.map(([value, said]) => (
              <option key={value} value={value}>
                {said}
              </option>
            ))}
          </Select>
        </div>
        <div className="flex items-center gap-1.5">
          <span className="text-soft">on the cast and</span>
          <Count label="Mixes of wearers" least={0} most={60} value={mixes} onChange={setMixes} />
          <span className="text-soft">mixes of it</span>
        </div>
        {running ? (
          <Button onClick={() => stop(hunt.id)}>
            <Square size={12} /> Stop
          </Button>
        ) : (
          <Button look="primary" onClick={() => start({ poses, share, mixes })}>
            <Search size={13} /> {hunt ? "Hunt on" : "Hunt"}
          </Button>
        )}
        <Button look="quiet" className="absolute top-2.5 right-3 px-1.5" aria-label="Close the hunt" onClick={onClose}>
          <X size={16} />
        </Button>
      </header>
      {hunt && (
        <p className="mt-1.5 text-soft" aria-live="polite">
          {running ? `${hunt.done} of ${hunt.total} cells tried` : `${hunt.done} cells tried`}, {hunt.failed} do not
          hold{hunt.state === "cancelled" ? " · stopped" : ""}
          {!running && hunt.failed === 0 && ". Hunt again with other poses, or let the joints go farther."}
          {hunt.worst.length > 0 && ". The worst first; one that may happen in your film belongs on the sheet."}
        </p>
      )}
      {hunt && hunt.worst.length > 0 && (
        <ul aria-label="Found" className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(118px,150px))] gap-2">
          {hunt.worst.slice(0, 12).map((f, i) => (
            <li key={f.picture} className="rounded-[3px] border border-rule">
              <button
                type="button"
                aria-label={`Look at ${f.name}, found ${i + 1}`}
                className="flex w-full cursor-pointer justify-center hover:bg-chalk disabled:cursor-default"
                disabled={f.wearer === null}
                onClick={() => look(f)}
              >
                <img src={`/api/pictures/${f.picture}.png`} alt="" loading="lazy" className="h-[120px]" />
              </button>
              <p className="flex justify-between border-t border-dashed border-rule px-1.5 py-0.5 text-[11.5px]">
                <span className="truncate" title={`Shows most on ${f.name}`}>
                  {f.name}
                  {f.fails_on > 1 && <span className="text-soft"> and {f.fails_on - 1} more</span>}
                </span>
                <span className="shrink-0 text-coral">
                  {(f.figures.area_cm2 + (f.figures.holes_cm2 ?? 0)).toFixed(1)} cm²
                </span>
              </p>
              <p className="flex border-t border-dashed border-rule text-[11.5px]">
                <Button
                  look="quiet"
                  className="min-w-0 flex-1 px-0.5 py-1 text-[11.5px]"
                  onClick={() => offer(f, `Found ${hunt.seed}.${i + 1}`)}
                >
                  <Plus size={11} /> Pose
                </Button>
                {f.wearer === null && (
                  <Button
                    look="quiet"
                    className="min-w-0 flex-1 px-0.5 py-1 text-[11.5px]"
                    onClick={() =>
                      addWearer.mutate(
                        { name: f.name, shape: f.shape },
                        { onSuccess: () => say({ kind: "done", text: `${f.name} stands in the cast.` }) },
                      )
                    }
                  >
                    <Plus size={11} /> Wearer
                  </Button>
                )}
              </p>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** A whole number between two bounds. */
function Count(props: { label: string; least: number; most: number; value: number; onChange(value: number): void }) {
  const { label, least, most, value, onChange } = props;
  return (
    <input
      aria-label={label}
      type="number"
      min={least}
      max={most}
      className="w-15 rounded-[3px] border border-rule bg-card px-1.5 py-1"
      value={value}
      onChange={(e) => onChange(Math.max(least, Math.min(most, Math.round(Number(e.target.value)) || least)))}
    />
  );
}
