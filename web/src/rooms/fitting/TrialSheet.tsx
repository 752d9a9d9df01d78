import { Download, Play, Square, WandSparkles, X } from "lucide-react";
import { useMemo, useState } from "react";
import { usePins, usePlan, useTrialRun, useTrialRuns, useWaivers } from "../../api/clearing";
import type { Production } from "../../api/client";
import { useTrial } from "../../api/hooks";
import { useRoom } from "../../state/room";
import { Button } from "../../ui/controls";
import { CellTile } from "./CellTile";
import { PlanPanel } from "./PlanPanel";
import { type SheetCell, sheetCells } from "./sheetCells";

type Order = "cast" | "worst" | "place";
const SELECT = "max-w-44 rounded-[3px] border border-rule bg-card px-1.5 py-1";

/** Every wearer in every pose; folds back onto the cell that was clicked. */
export function TrialSheet({ production }: { production: Production }) {
  const { set } = useRoom();
  const { start, cancel } = useTrial();
  const { plan, busy, ...planning } = usePlan();
  const waivers = useWaivers();
  const pins = usePins();
  const [order, setOrder] = useState<Order>("cast");
  const [piece, setPiece] = useState("");
  const [other, setOther] = useState<number | null>(null);
  const runs = useTrialRuns(true);
  const compared = useTrialRun(other);
  const trial = production.trial;
  const running = trial?.state === "running";
  const rate = trial && trial.done > 0 ? trial.seconds / trial.done : 0;
  const remaining = trial && rate ? Math.ceil((trial.total - trial.done) * rate) : null;
  const cells = useMemo(
    () =>
      sheetCells({
        production,
        trial: trial ?? null,
        other: other === null ? null : (compared.data ?? null),
        piece: piece || null,
        waivers: waivers.list,
        pins: pins.list,
      }),
    [production, trial, other, compared.data, piece, waivers.list, pins.list],
  );
  const measured = cells.filter((c) => c.cell?.figures);
  const holding = measured.filter((c) => c.holds).length;
  const waived = measured.filter((c) => c.left && c.holds).length;
  const changed = (kind: SheetCell["change"]) => cells.filter((c) => c.change === kind).length;
  const open = (c: SheetCell) => set({ wearer: c.wearer, pose: c.pose, sheet: false, live: null });
  const tile = (c: SheetCell) => (
    <CellTile
      {...c}
      onPin={() => pins.pin.mutate({ wearer: c.wearer, pose: c.pose, pinned: !c.pinned })}
      onOpen={() => open(c)}
    />
  );
  const groups = useMemo(() => grouped(cells, order), [cells, order]);
  const worn = [...new Set(production.pieces.map((p) => p.name))];
  const working = production.pieces.some((p) => p.status === "waiting"); // what is worn is not known yet
  const planOpen = plan && (plan.state === "planning" || plan.state === "ready" || plan.state === "failed");
  return (
    <section aria-label="Trial sheet" className="absolute inset-0 z-20 flex flex-col bg-paper">
      <header className="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-rule bg-card px-5 py-2.5">
        <h2 className="font-title text-[19px] font-semibold">Trial sheet</h2>
        <p className="text-soft" aria-live="polite">
          {working
            ? "The pieces are being worked out…"
            : !trial
              ? "Not measured yet"
              : running
                ? `${trial.done} of ${trial.total} cells${remaining !== null ? `, about ${remaining} s left` : ""}`
                : `${holding} of ${trial.total} cells hold${waived ? ` (${waived} left as they are)` : ""} · ${trial.state === "cancelled" ? "cancelled" : trial.seconds < 0.1 ? "all known from before" : `measured in ${trial.seconds.toFixed(1)} s`}${trial.stale ? " · before the last change" : ""}`}
        </p>
        <div className="ml-auto flex items-center gap-2">
          {running ? (
            <Button onClick={() => cancel.mutate(trial.id)}>
              <Square size={12} /> Cancel
            </Button>
          ) : (
            <Button
              look={trial && !trial.stale ? "plain" : "primary"}
              disabled={start.isPending || working || !production.pieces.length}
              onClick={() => start.mutate(undefined as never)}
            >
              <Play size={12} /> {trial ? "Measure again" : "Measure the sheet"}
            </Button>
          )}
          <Button
            look={trial && !trial.stale ? "primary" : "plain"}
            disabled={busy || working || plan?.state === "planning" || !production.pieces.length}
            onClick={planning.make}
          >
            <WandSparkles size={13} /> Clear the sheet
          </Button>
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
      {trial && (
        <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5 border-b border-rule px-5 py-1.5 text-[13px]">
          <label className="flex items-center gap-1.5">
            <span className="text-soft">Order</span>
            <select className={SELECT} value={order} onChange={(e) => setOrder(e.target.value as Order)}>
              <option value="cast">wearers by poses</option>
              <option value="worst">worst first</option>
              <option value="place">by where it shows</option>
            </select>
          </label>
          <label className="flex items-center gap-1.5">
            <span className="text-soft">Piece</span>
            <select className={SELECT} value={piece} onChange={(e) => setPiece(e.target.value)}>
              <option value="">all of the rail</option>
              {worn.map((name) => (
                <option key={name}>{name}</option>
              ))}
            </select>
          </label>
          <label className="flex items-center gap-1.5">
            <span className="text-soft">Beside</span>
            <select
              className={SELECT}
              value={other ?? ""}
              onChange={(e) => setOther(e.target.value ? Number(e.target.value) : null)}
            >
              <option value="">no other run</option>
              {(runs.data ?? [])
                .filter((r) => r.id !== trial.id)
                .map((r) => (
                  <option key={r.id} value={r.id}>
                    {new Date(r.started_at).toLocaleString("en-GB", { dateStyle: "short", timeStyle: "short" })} ·{" "}
                    {r.holding} of {r.total} held
                  </option>
                ))}
            </select>
          </label>
          {other !== null && compared.data && (
            <span aria-live="polite">
              {changed("better")} better, {changed("worse")} worse, {changed("same")} same
            </span>
          )}
          <span className="ml-auto flex items-center gap-2 text-soft">
            <Download size={13} aria-hidden />
            {(["png", "csv", "json"] as const).map((kind) => (
              <a key={kind} className="hover:text-ink" href={`/api/trials/${trial.id}.${kind}`} download>
                {kind.toUpperCase()}
              </a>
            ))}
          </span>
        </div>
      )}
      {plan && (planOpen || plan.state === "done") && (
        <PlanPanel
          plan={plan}
          production={production}
          busy={busy}
          onCarryOut={() => planning.carryOut(plan.id)}
          onUndo={() => planning.undo(plan.id)}
          onDrop={() => planning.drop(plan.id)}
        />
      )}
      <div className="min-h-0 flex-1 overflow-auto p-4">
        {!trial && (
          <p className="mx-auto mt-16 max-w-md text-center text-soft">
            The sheet shows every wearer in every pose as a small picture with what was measured. Press “Measure the
            sheet” to fill it.
          </p>
        )}
        {trial && order === "cast" && (
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
                {cells
                  .filter((c) => c.wearer === w.id)
                  .map((c) => (
                    <div key={c.key}>{tile(c)}</div>
                  ))}
              </div>
            ))}
          </div>
        )}
        {trial &&
          order !== "cast" &&
          groups.map(([name, rows]) => (
            <section key={name} className="mb-4">
              {order === "place" && (
                <h3 className="mb-1.5 font-semibold">
                  {name} <span className="font-normal text-soft">· {rows.length}</span>
                </h3>
              )}
              <div className="grid grid-cols-[repeat(auto-fill,minmax(110px,150px))] gap-2">
                {rows.map((c) => (
                  <div key={c.key}>
                    {tile(c)}
                    <p className="mt-0.5 truncate text-[11.5px] text-soft">{c.name}</p>
                  </div>
                ))}
              </div>
            </section>
          ))}
      </div>
    </section>
  );
}

/** The cells in one group, worst first, pinned ones before all; or in groups by where they show. */
function grouped(cells: SheetCell[], order: Order): [string, SheetCell[]][] {
  const sorted = [...cells].sort((a, b) => Number(b.pinned) - Number(a.pinned) || b.area - a.area);
  if (order !== "place") return [["all", sorted]];
  const by = new Map<string, SheetCell[]>();
  for (const c of sorted) by.set(c.place, [...(by.get(c.place) ?? []), c]);
  return [...by].sort(([a], [b]) => Number(a === "Holds") - Number(b === "Holds"));
}
