import { Plus, Search, Square, X } from "lucide-react";
import type { Rotations } from "../../api/client";
import { type HuntFound, useHunt } from "../../api/hunts";
import { useOwnPose } from "../../api/posing";
import { useKept } from "../../store/kept";
import { useRoomOf } from "../../store/room";
import { Button } from "../../ui/controls";
import { Select } from "../../ui/Select";
import { TEXT } from "./texts";

const REACH = [
  [0.35, TEXT.smallMovements],
  [0.5, TEXT.workingMovements],
  [0.7, TEXT.wideMovements],
  [0.9, TEXT.theEndsOfEvery],
] as const;

/** Looks for failures no one thought of: random poses on every wearer and on mixes of them; the worst are offered as poses. */
export function HuntPanel({ onClose }: { onClose(): void }) {
  const { hunt, start, stop, addWearer } = useHunt();
  const { keep } = useOwnPose();
  const { set, say } = useRoomOf("set", "say");
  const [poses, setPoses] = useKept("hunt poses", 24);
  const [share, setShare] = useKept("hunt share", 0.5);
  const [mixes, setMixes] = useKept("hunt mixes", 3);
  const running = hunt?.state === "running";
  const look = (f: HuntFound) => {
    const posing = { rotations: f.rotations as Rotations, joint: null, degrees: [], short: 0, past: [], next: [] };
    set({ wearer: f.wearer, posing, panel: "poses", sheet: false, live: null });
  };
  const offer = (f: HuntFound, label: string) =>
    keep.mutate(
      { label, rotations: f.rotations as Rotations },
      { onSuccess: () => say({ kind: "done", text: TEXT.standsOnThePose(label) }) },
    );
  return (
    <section
      aria-label={TEXT.hunt}
      className="relative max-h-[55%] shrink-0 overflow-auto border-b border-rule bg-card px-5 py-3"
    >
      <header className="flex flex-wrap items-center gap-x-2.5 gap-y-2 pr-8">
        <h3 className="font-title text-[16px] font-semibold">{TEXT.huntForFailures}</h3>
        <div className="flex items-center gap-1.5">
          <Count label={TEXT.randomPoses} least={1} most={400} value={poses} onChange={setPoses} />
          <span className="text-soft">{TEXT.randomPosesOf}</span>
          <Select label={TEXT.howFar} className="w-40" value={share} onChoose={(v) => setShare(Number(v))}>
            {REACH.map(([value, said]) => (
              <option key={value} value={value}>
                {said}
              </option>
            ))}
          </Select>
        </div>
        <div className="flex items-center gap-1.5">
          <span className="text-soft">{TEXT.onTheCastAnd}</span>
          <Count label={TEXT.mixesOfWearers} least={0} most={60} value={mixes} onChange={setMixes} />
          <span className="text-soft">{TEXT.mixesOfIt}</span>
        </div>
        {running ? (
          <Button onClick={() => stop(hunt.id)}>
            <Square size={12} /> {TEXT.stop}
          </Button>
        ) : (
          <Button look="primary" onClick={() => start({ poses, share, mixes })}>
            <Search size={13} /> {hunt ? TEXT.huntOn : TEXT.hunt}
          </Button>
        )}
        <Button
          look="quiet"
          className="absolute top-2.5 right-3 px-1.5"
          aria-label={TEXT.closeTheHunt}
          onClick={onClose}
        >
          <X size={16} />
        </Button>
      </header>
      {hunt && (
        <p className="mt-1.5 text-soft" aria-live="polite">
          {running ? TEXT.ofCellsTried(hunt.done, hunt.total) : TEXT.cellsTried(hunt.done)}, {hunt.failed}{" "}
          {TEXT.doNotHold}
          {hunt.state === "cancelled" ? " · stopped" : ""}
          {!running && hunt.failed === 0 && TEXT.huntAgainWithOther}
          {hunt.worst.length > 0 && TEXT.theWorstFirstOne}
        </p>
      )}
      {hunt && hunt.worst.length > 0 && (
        <ul aria-label={TEXT.found} className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(118px,150px))] gap-2">
          {hunt.worst.slice(0, 12).map((f, i) => (
            <li key={f.picture} className="rounded-[3px] border border-rule">
              <button
                type="button"
                aria-label={TEXT.lookAtFound(f.name, i + 1)}
                className="flex w-full cursor-pointer justify-center hover:bg-chalk disabled:cursor-default"
                disabled={f.wearer === null}
                onClick={() => look(f)}
              >
                <img src={`/api/pictures/${f.picture}.png`} alt="" loading="lazy" className="h-[120px]" />
              </button>
              <p className="flex justify-between border-t border-dashed border-rule px-1.5 py-0.5 text-[11.5px]">
                <span className="truncate" title={TEXT.showsMostOn(f.name)}>
                  {f.name}
                  {f.fails_on > 1 && <span className="text-soft">{TEXT.andMore(f.fails_on - 1)}</span>}
                </span>
                <span className="shrink-0 text-coral">
                  {TEXT.cm((f.figures.area_cm2 + (f.figures.holes_cm2 ?? 0)).toFixed(1))}
                </span>
              </p>
              <p className="flex border-t border-dashed border-rule text-[11.5px]">
                <Button
                  look="quiet"
                  className="min-w-0 flex-1 px-0.5 py-1 text-[11.5px]"
                  onClick={() => offer(f, TEXT.found2(hunt.seed, i + 1))}
                >
                  <Plus size={11} /> {TEXT.pose}
                </Button>
                {f.wearer === null && (
                  <Button
                    look="quiet"
                    className="min-w-0 flex-1 px-0.5 py-1 text-[11.5px]"
                    onClick={() =>
                      addWearer.mutate(
                        { name: f.name, shape: f.shape },
                        { onSuccess: () => say({ kind: "done", text: TEXT.standsInTheCast(f.name) }) },
                      )
                    }
                  >
                    <Plus size={11} /> {TEXT.wearer}
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
