import { Play, Search, Square, WandSparkles, X } from "lucide-react";
import { useCallback, useMemo, useRef, useState } from "react";
import { usePins, usePlan, useTrialRun, useWaivers } from "../../api/clearing";
import type { Production } from "../../api/client";
import { useSheet, useTrial } from "../../api/hooks";
import { type SheetCell, sheetCells } from "../../recipe/sheetCells";
import { useKept } from "../../store/kept";
import { useRoomOf } from "../../store/room";
import { Button } from "../../ui/controls";
import { HuntPanel } from "./HuntPanel";
import { PlanPanel } from "./PlanPanel";
import { type Order, SheetGrid } from "./SheetGrid";
import { SheetTools } from "./SheetTools";
import { TEXT } from "./texts";

/** Every wearer in every pose; folds back onto the cell that was clicked. */
export function TrialSheet({ production }: { production: Production }) {
  const { choice, set } = useRoomOf("choice", "set");
  const { start, cancel } = useTrial();
  const { plan, busy, ...planning } = usePlan();
  const waivers = useWaivers();
  const pins = usePins();
  const [order, setOrder] = useKept<Order>("sheet order", "cast");
  const [piece, setPiece] = useState("");
  const [other, setOther] = useState<number | null>(null);
  const [byShots, setByShots] = useKept("sheet by shots", false);
  const [hunting, setHunting] = useState(false);
  const scroller = useRef<HTMLDivElement>(null);
  const compared = useTrialRun(other);
  const trial = useSheet();
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
        byShots: byShots && production.shots.length > 0,
        waivers: waivers.list,
        pins: pins.list,
      }),
    [production, trial, other, compared.data, piece, byShots, waivers.list, pins.list],
  );
  const measured = cells.filter((c) => c.cell?.figures);
  const holding = measured.filter((c) => c.holds).length;
  const waived = measured.filter((c) => c.left && c.holds).length;
  const changed = (kind: SheetCell["change"]) => cells.filter((c) => c.change === kind).length;
  const open = useCallback(
    (c: SheetCell) =>
      c.rotations
        ? set({
            wearer: c.wearer,
            posing: { rotations: c.rotations, joint: null, degrees: [], short: 0, past: [], next: [] },
            panel: "poses",
            sheet: false,
            live: null,
          })
        : set({ wearer: c.wearer, pose: c.pose, posing: null, sheet: false, live: null }),
    [set],
  );
  const { mutate: pin } = pins.pin;
  const turnPin = useCallback((c: SheetCell) => pin({ wearer: c.wearer, pose: c.pose, pinned: !c.pinned }), [pin]);
  const working = production.pieces.some((p) => p.status === "waiting"); // what is worn is not known yet
  const some = choice.wearers !== null || choice.columns !== null || choice.outfit !== null;
  const inOne = production.outfits.find((o) => o.id === trial?.of_outfit);
  const planOpen = plan && (plan.state === "planning" || plan.state === "ready" || plan.state === "failed");
  return (
    <section data-room="sheet" aria-label={TEXT.trialSheet} className="absolute inset-0 z-20 flex flex-col bg-paper">
      <header className="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-rule bg-card px-5 py-2.5">
        <h2 className="font-title text-[19px] font-semibold">{TEXT.trialSheet}</h2>
        <p className="text-soft" aria-live="polite">
          {working
            ? TEXT.thePiecesAreBeing
            : !trial
              ? TEXT.notMeasuredYet
              : running
                ? TEXT.ofCells(trial.done, trial.total, remaining !== null ? TEXT.aboutSLeft(remaining) : "")
                : TEXT.ofCellsHold(
                    holding,
                    trial.total,
                    waived ? TEXT.leftAsTheyAre(waived) : "",
                    trial.state === "cancelled"
                      ? "cancelled"
                      : trial.seconds < 0.1
                        ? TEXT.allKnownFromBefore
                        : TEXT.measuredInS(trial.seconds.toFixed(1)),
                    trial.stale ? TEXT.beforeTheLastChange : "",
                  )}
          {inOne && TEXT.inOutfit(inOne.name)}
        </p>
        <div className="ml-auto flex items-center gap-2">
          {running ? (
            <Button onClick={() => cancel.mutate(trial.id)}>
              <Square size={12} /> {TEXT.cancel}
            </Button>
          ) : (
            <Button
              look={trial && !trial.stale ? "plain" : "primary"}
              disabled={start.isPending || working || !production.pieces.length}
              onClick={() => start.mutate(choice)}
            >
              <Play size={12} /> {some ? TEXT.measureTheChosen : trial ? TEXT.measureAgain : TEXT.measureTheSheet}
            </Button>
          )}
          <Button
            disabled={working || !production.pieces.length}
            aria-pressed={hunting}
            onClick={() => setHunting(!hunting)}
          >
            <Search size={13} /> {TEXT.hunt}
          </Button>
          <Button
            look={trial && !trial.stale ? "primary" : "plain"}
            disabled={busy || working || plan?.state === "planning" || !production.pieces.length}
            onClick={() => planning.make()}
          >
            <WandSparkles size={13} /> {TEXT.clearTheSheet}
          </Button>
          <Button look="quiet" className="px-1.5" aria-label={TEXT.foldTheSheet} onClick={() => set({ sheet: false })}>
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
      <SheetTools
        production={production}
        trial={trial ?? null}
        order={order}
        piece={piece}
        other={other}
        compared={
          other !== null && compared.data
            ? TEXT.betterWorseSame(changed("better"), changed("worse"), changed("same"))
            : null
        }
        byShots={byShots}
        onByShots={setByShots}
        onOrder={setOrder}
        onPiece={setPiece}
        onOther={setOther}
      />
      {hunting && <HuntPanel onClose={() => setHunting(false)} />}
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
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto px-4 pt-1 pb-4">
        {!trial && <p className="mx-auto mt-16 max-w-md text-center text-soft">{TEXT.theSheetShowsEvery}</p>}
        {trial && (
          <SheetGrid
            production={production}
            cells={cells}
            order={order}
            onOpen={open}
            onPin={turnPin}
            scroller={scroller}
          />
        )}
      </div>
    </section>
  );
}
