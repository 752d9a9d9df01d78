import clsx from "clsx";
import { Play, Square, X } from "lucide-react";
import { useState } from "react";
import type { Production, TrialCell } from "../../api/client";
import { useTrial } from "../../api/hooks";
import { useRoom } from "../../state/room";
import { Button } from "../../ui/controls";

/** Every wearer in every pose; folds back onto the cell that was clicked. */
export function TrialSheet({ production }: { production: Production }) {
  const { set } = useRoom();
  const { start, cancel } = useTrial();
  const [byWorst, setByWorst] = useState(false);
  const trial = production.trial;
  const running = trial?.state === "running";
  const rate = trial && trial.done > 0 ? trial.seconds / trial.done : 0;
  const left = trial && rate ? Math.ceil((trial.total - trial.done) * rate) : null;
  const cellOf = (wearer: number, pose: string) => trial?.cells.find((c) => c.wearer === wearer && c.pose === pose);
  const holding = trial?.cells.filter((c) => c.figures?.holds).length ?? 0;
  const sorted = [...(trial?.cells ?? [])].sort((a, b) => (b.figures?.area_cm2 ?? -1) - (a.figures?.area_cm2 ?? -1));
  const open = (cell: { wearer: number; pose: string }) =>
    set({ wearer: cell.wearer, pose: cell.pose, sheet: false, live: null });
  return (
    <section aria-label="Trial sheet" className="absolute inset-0 z-20 flex flex-col bg-paper">
      <header className="flex flex-wrap items-center gap-3 border-b border-rule bg-card px-5 py-2.5">
        <h2 className="font-title text-[19px] font-semibold">Trial sheet</h2>
        <p className="text-soft" aria-live="polite">
          {!trial
            ? "Not measured yet"
            : running
              ? `${trial.done} of ${trial.total} cells${left !== null ? `, about ${left} s left` : ""}`
              : `${holding} of ${trial.total} cells hold · ${trial.state === "cancelled" ? "cancelled" : trial.seconds < 0.1 ? "all known from before" : `measured in ${trial.seconds.toFixed(1)} s`}${trial.stale ? " · before the last change" : ""}`}
        </p>
        <div className="ml-auto flex items-center gap-2">
          <Button
            aria-pressed={byWorst}
            className={byWorst ? "border-heron" : ""}
            disabled={!trial}
            onClick={() => setByWorst(!byWorst)}
          >
            Worst first
          </Button>
          {running ? (
            <Button onClick={() => cancel.mutate(trial.id)}>
              <Square size={12} /> Cancel
            </Button>
          ) : (
            <Button
              look="primary"
              disabled={start.isPending || !production.pieces.length}
              onClick={() => start.mutate(undefined as never)}
            >
              <Play size={12} /> {trial ? "Measure again" : "Measure the sheet"}
            </Button>
          )}
          <Button look="quiet" className="px-1.5" aria-label="Fold the sheet" onClick={() => set({ sheet: false })}>
            <X size={16} />
          </Button>
        </div>
      </header>
      {running && (
        <div className="h-[3px] bg-chalk">
          <div
            className="h-full bg-heron transition-[width]"
            style={{ width: `${(100 * trial.done) / trial.total}%` }}
          />
        </div>
      )}
      <div className="min-h-0 flex-1 overflow-auto p-4">
        {!trial && (
          <p className="mx-auto mt-16 max-w-md text-center text-soft">
            The sheet shows every wearer in every pose as a small picture with what was measured. Press “Measure the
            sheet” to fill it.
          </p>
        )}
        {trial && !byWorst && (
          <div
            className="grid gap-2"
            style={{ gridTemplateColumns: `72px repeat(${production.poses.length}, minmax(96px, 150px))` }}
          >
            <span />
            {production.poses.map((p) => (
              <span key={p.name} className="text-soft">
                {p.label}
              </span>
            ))}
            {production.cast.map((w) => (
              <div key={w.id} className="contents">
                <span className="self-center font-semibold">{w.name}</span>
                {production.poses.map((p) => (
                  <CellTile
                    key={p.name}
                    cell={cellOf(w.id, p.name)}
                    name={`${w.name}, ${p.label.toLowerCase()}`}
                    onOpen={() => open({ wearer: w.id, pose: p.name })}
                  />
                ))}
              </div>
            ))}
          </div>
        )}
        {trial && byWorst && (
          <div className="grid grid-cols-[repeat(auto-fill,minmax(110px,150px))] gap-2">
            {sorted.map((c) => {
              const name = `${production.cast.find((w) => w.id === c.wearer)?.name}, ${production.poses.find((p) => p.name === c.pose)?.label.toLowerCase()}`;
              return (
                <div key={`${c.wearer}${c.pose}`}>
                  <CellTile cell={c} name={name} onOpen={() => open(c)} />
                  <p className="mt-0.5 truncate text-[11.5px] text-soft">{name}</p>
                </div>
              );
            })}
          </div>
        )}
      </div>
    </section>
  );
}

function CellTile({ cell, name, onOpen }: { cell: TrialCell | undefined; name: string; onOpen(): void }) {
  const f = cell?.figures;
  return (
    <button
      type="button"
      onClick={onOpen}
      aria-label={`${name}: ${!f ? "not measured" : f.holds ? "holds" : `shows through, ${f.area_cm2.toFixed(2)} square centimetres`}`}
      className={clsx(
        "flex w-full cursor-pointer flex-col items-stretch rounded-[3px] border bg-card hover:border-heron",
        f && !f.holds ? "border-coral" : f ? "border-rule" : "border-dashed border-rule",
      )}
    >
      <span className="flex h-[140px] items-center justify-center">
        {cell?.picture ? (
          <img src={`/api/pictures/${cell.picture}.png`} alt="" className="h-[136px]" />
        ) : (
          <span className="px-2 text-center text-[11.5px] text-soft">{cell?.error ?? "waiting"}</span>
        )}
      </span>
      {f && (
        <span
          className={clsx(
            "flex justify-between border-t border-dashed border-rule px-1.5 py-0.5 text-[11.5px]",
            f.holds ? "text-moss" : "text-coral",
          )}
        >
          <span>{f.clearance_mm.toFixed(1).replace("-", "−")} mm</span>
          <span>{f.holds ? "holds" : `${f.area_cm2.toFixed(2)} cm²`}</span>
        </span>
      )}
    </button>
  );
}
