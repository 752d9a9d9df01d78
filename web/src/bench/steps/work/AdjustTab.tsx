import { invalidate } from "@react-three/fiber";
import { useEffect, useRef, useState } from "react";
import { pulled, useAdjusters } from "../../../api/work";
import { type StepOf, workOf } from "../../../recipe/recipe";
import { showPoints } from "../../../stage/mesh/piece";
import { Check } from "../../../ui/Check";
import { Button, Hint, Slider } from "../../../ui/controls";
import { TEXT } from "./texts";
import type { WorkProps } from "./WorkPanel";

/** The adjusters this piece has without an author; the stage shows them as they slide, letting go keeps them. */
export function AdjustTab({ piece, mesh, onWork, poseName, onPoseKeyed }: WorkProps) {
  const found = useAdjusters(piece, true);
  const work = workOf(piece.recipe);
  const last = work.at(-1);
  const kept = last?.kind === "adjust" ? last : null;
  const [values, setValues] = useState<Record<string, number>>(kept?.values ?? {});
  const [wide, setWide] = useState(false);
  const clear = kept?.clear ?? true;
  const timer = useRef(0);
  const latest = useRef<(change: Partial<StepOf<"adjust">>, label: string) => void>(() => {});
  useEffect(() => () => window.clearTimeout(timer.current), []);
  useEffect(() => setValues(kept?.values ?? {}), [kept]);
  if (found.isError) return <p className="text-amber">{found.error.message}</p>;
  if (!found.data) return <p className="text-soft">{TEXT.findingItsOpenings}</p>;
  const data = found.data;
  const slide = (name: string, value: number) => {
    const now = { ...values, [name]: value };
    setValues(now);
    if (!mesh || data.moves.length === 0) return;
    const by = Object.fromEntries(Object.entries(now).map(([n, v]) => [n, v - (kept?.values?.[n] ?? 0)]));
    showPoints(mesh, pulled(mesh.kept, data, by));
    invalidate();
  };
  const keep = (change: Partial<StepOf<"adjust">>, label: string) => {
    const step = { ...(kept ?? { kind: "adjust" as const, values: {}, clear: true, ease: 0.004 }), ...change };
    const empty = Object.values(step.values ?? {}).every((v) => v === 0);
    const before = kept ? work.slice(0, -1) : work;
    onWork(empty ? before : [...before, step], label);
  };
  const settled = (change: Partial<StepOf<"adjust">>, label: string) => {
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => latest.current(change, label), 350); // arrow keys come in a row
  };
  latest.current = keep;
  const groups = [...new Set(data.adjusters.map((a) => a.group))];
  return (
    <div>
      <div className="max-h-72 overflow-y-auto pr-1">
        {groups.map((group) => (
          <section key={group} aria-label={group}>
            <h3 className="mt-1 text-[11.5px] text-soft first-letter:uppercase">{group}</h3>
            {data.adjusters
              .filter((a) => a.group === group)
              .map((a) => {
                const value = values[a.name] ?? 0;
                return (
                  <Slider
                    key={a.name}
                    label={a.label}
                    min={wide ? -3 : -1}
                    max={wide ? 3 : 1}
                    step={0.02}
                    value={value}
                    shown={value === 0 ? "" : `${value > 0 ? a.more : a.less} ${Math.abs(value).toFixed(2)}`}
                    onChange={(v) => slide(a.name, v)}
                    onCommit={(v) =>
                      settled({ values: { ...values, [a.name]: v } }, `${a.label}: ${v > 0 ? a.more : a.less}`)
                    }
                  />
                );
              })}
          </section>
        ))}
      </div>
      <div className="mt-1.5 flex flex-wrap items-center gap-x-4 gap-y-1">
        <Check
          checked={clear}
          disabled={!kept}
          onChange={(on) => keep({ clear: on }, on ? TEXT.clearTheBody : TEXT.doNotClear)}
        >
          {TEXT.clearTheBodyAs}
        </Check>
        <Check checked={wide} onChange={(on) => setWide(on)}>
          {TEXT.pastTheLimits}
        </Check>
        {kept && (
          <Button look="quiet" className="px-0" onClick={() => keep({ values: {} }, TEXT.adjustersBack)}>
            {TEXT.allBackTo0}
          </Button>
        )}
        {kept && (
          <Hint text={onPoseKeyed ? TEXT.theyComeInWith : TEXT.bindThePieceFirst}>
            <span>
              <Button look="quiet" className="px-0" disabled={!onPoseKeyed} onClick={() => onPoseKeyed?.(values)}>
                {TEXT.onlyIn(poseName)}
              </Button>
            </span>
          </Hint>
        )}
      </div>
    </div>
  );
}
