import clsx from "clsx";
import { FileUp } from "lucide-react";
import { Fragment, useRef, useState } from "react";
import type { Measure, Wearer } from "../../api/client";
import { useMeasureSheet, useSetShape, useSolve } from "../../api/hooks";
import { LENGTHS } from "../../recipe/lengths";
import { useRoomOf } from "../../store/room";
import { Button } from "../../ui/controls";
import { PanelTool, StagePanel } from "../../ui/StagePanel";
import { TEXT } from "./texts";

interface Props {
  wearer: Wearer;
  measures: Measure[];
  /** The unit in which the production measures bodies. */
  lengths: keyof typeof LENGTHS;
}

/** The wearer's body measures: taken as tapes; write some and the shape is solved to meet them. */
export function MeasurePanel({ wearer, measures, lengths }: Props) {
  const { per, name: unit } = LENGTHS[lengths];
  const { tape, set, say } = useRoomOf("tape", "set", "say");
  const [asked, setAsked] = useState<Record<string, string>>({});
  const [missed, setMissed] = useState<Record<string, number>>({});
  const keep = useSetShape();
  const solve = useSolve();
  const sheet = useMeasureSheet();
  const file = useRef<HTMLInputElement>(null);
  const groups = [...new Set(measures.map((m) => m.group))];
  const written = Object.entries(asked).filter(([, text]) => text.trim() !== "");
  const wrong = written.filter(([, text]) => !(metres(text, per) > 0.01));
  const run = () =>
    solve.mutate(
      { asked: Object.fromEntries(written.map(([name, text]) => [name, metres(text, per)])), around: {} },
      {
        onSuccess: (found) => {
          if (!found) return;
          const out = Object.entries(found.met).filter(([, met]) => !met);
          setMissed(Object.fromEntries(out.map(([name]) => [name, found.reached[name] ?? 0])));
          say(
            out.length
              ? {
                  kind: "problem",
                  text: TEXT.ofMeasuresAreOut(out.length, written.length),
                }
              : { kind: "done", text: TEXT.nowMeetsAllMeasures(wearer.name, written.length) },
          );
          set({ live: found.shape });
          keep.mutate({ wearer: wearer.id, shape: found.shape }, { onSettled: () => set({ live: null }) });
        },
      },
    );
  return (
    <StagePanel
      title={TEXT.measures}
      label={TEXT.measuresOf(wearer.name)}
      tools={
        <PanelTool name={TEXT.fillInFromA} hint={TEXT.fillInFromASheet} onClick={() => file.current?.click()}>
          <FileUp size={14} />
        </PanelTool>
      }
    >
      <input
        ref={file}
        type="file"
        accept=".csv,text/csv,text/plain"
        aria-label={TEXT.measureSheet}
        className="hidden"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          e.target.value = "";
          if (chosen)
            sheet.mutate(chosen, {
              onSuccess: (read) =>
                setAsked(Object.fromEntries(Object.entries(read).map(([n, v]) => [n, (v * per).toFixed(1)]))),
            });
        }}
      />
      <p className="mt-1 text-[11.5px] leading-snug text-soft">{TEXT.inUnitByIso(unit)}</p>
      {groups.map((group) => (
        <Fragment key={group}>
          <h3 className="mt-2 border-b border-dashed border-rule pb-0.5 text-[11.5px] text-soft first-letter:uppercase">
            {group}
          </h3>
          {measures
            .filter((m) => m.group === group)
            .map((m) => (
              <label
                key={m.name}
                onPointerEnter={() => set({ tape: m.name })}
                className={clsx(
                  "flex items-center gap-2 py-[2px] text-[12.5px]",
                  tape === m.name && "text-heron",
                  missed[m.name] && "text-amber",
                )}
              >
                <span className="grow">{m.label}</span>
                <span className="tabular-nums">{(m.value * per).toFixed(1)}</span>
                <input
                  aria-label={TEXT.wantedIn(m.label, unit)}
                  inputMode="decimal"
                  placeholder="–"
                  value={asked[m.name] ?? ""}
                  onFocus={() => set({ tape: m.name })}
                  onChange={(e) => setAsked({ ...asked, [m.name]: e.target.value })}
                  onKeyDown={(e) => {
                    if (e.key === "Enter" && written.length && !wrong.length) run();
                  }}
                  className={clsx(
                    "w-14 rounded-[3px] border bg-card px-1 py-0.5 text-right text-ink outline-none focus:border-heron",
                    asked[m.name] && !(metres(asked[m.name] ?? "", per) > 0.01) ? "border-amber" : "border-rule",
                  )}
                />
              </label>
            ))}
        </Fragment>
      ))}
      <div className="sticky -bottom-3 -mx-3.5 mt-2 flex gap-2 border-t border-rule bg-card px-3.5 py-2">
        <Button look="primary" disabled={!written.length || wrong.length > 0 || solve.isPending} onClick={run}>
          {written.length > 1 ? TEXT.solveMeasures(written.length) : TEXT.solve}
        </Button>
        <Button
          disabled={!written.length}
          onClick={() => {
            setAsked({});
            setMissed({});
          }}
        >
          {TEXT.clear}
        </Button>
      </div>
    </StagePanel>
  );
}

function metres(text: string, per: number): number {
  return Number(text.replace(",", ".")) / per;
}
