import type { Plan } from "../../api/clearing";
import type { Production } from "../../api/client";
import { columnsOf, MOTION } from "../../recipe/sheetCells";
import { useRoomOf } from "../../store/room";
import { Button } from "../../ui/controls";
import { TEXT } from "./texts";

interface Props {
  plan: Plan;
  production: Production;
  busy: boolean;
  onCarryOut(): void;
  onUndo(): void;
  onDrop(): void;
}

function change(before: number, after: number): string {
  const digits = before < 1 ? 2 : 1;
  return `${before.toFixed(digits)} → ${after.toFixed(digits)} cm²`;
}

const sum = (plan: Plan, key: "before_cm2" | "after_cm2") => plan.cells.reduce((total, c) => total + c[key], 0);

/** What would clear the sheet: each alteration with what it comes to, then what is left and why. */
export function PlanPanel({ plan, production, busy, onCarryOut, onUndo, onDrop }: Props) {
  const { set } = useRoomOf("set");
  if (plan.state === "cancelled") return null;
  const holding = (key: "before_cm2" | "after_cm2") => plan.cells.filter((c) => c[key] <= 0.1).length;
  const left = plan.cells.filter((c) => c.after_cm2 > 0.1).sort((a, b) => b.after_cm2 - a.after_cm2);
  const nameOf = (c: { wearer: number; pose: string }) =>
    `${production.cast.find((w) => w.id === c.wearer)?.name ?? "?"}, ${(columnsOf(production).find((p) => p.name === c.pose)?.label ?? c.pose).toLowerCase()}`;
  return (
    <section aria-label={TEXT.plan} className="border-b border-rule bg-card px-5 py-3">
      <header className="flex items-baseline gap-3">
        <h3 className="font-title text-[16px] font-semibold">
          {plan.state === "done" ? TEXT.carriedOut : plan.state === "undone" ? TEXT.takenBack : TEXT.plan}
        </h3>
        {plan.cell && <p className="text-soft">{TEXT.forOneCell(nameOf(plan.cell))}</p>}
        {plan.state === "planning" && (
          <p className="text-soft" aria-live="polite">
            {plan.total ? TEXT.tryingWhatClearsIt(Math.round((100 * plan.done) / plan.total)) : TEXT.waitingForAWorker}
          </p>
        )}
        {plan.cells.length > 0 && (
          <p aria-live="polite">
            {holding("before_cm2")} → <strong className="text-moss">{holding("after_cm2")}</strong> {TEXT.of}{" "}
            {plan.cells.length} {TEXT.cellsHold} {sum(plan, "before_cm2").toFixed(1)} →{" "}
            {sum(plan, "after_cm2").toFixed(1)} {TEXT.cm2}
          </p>
        )}
        {plan.why && <p className={plan.state === "failed" ? "text-ink" : "text-soft"}>{plan.why}</p>}
        <span className="ml-auto flex gap-2">
          {plan.state === "ready" && plan.lines.length > 0 && (
            <Button look="primary" disabled={busy} onClick={onCarryOut}>
              {TEXT.carryItOut}
            </Button>
          )}
          {plan.state === "done" && (
            <Button disabled={busy} onClick={onUndo}>
              {TEXT.takeItAllBack}
            </Button>
          )}
          {(plan.state === "planning" || plan.state === "ready" || plan.state === "failed") && (
            <Button look="quiet" onClick={onDrop}>
              {plan.state === "planning" ? TEXT.stop : TEXT.putItAside}
            </Button>
          )}
        </span>
      </header>
      {plan.lines.length > 0 && (
        <table className="mt-2 w-full max-w-[860px]">
          <tbody>
            {plan.lines.map((line) => (
              <tr key={`${line.piece}${line.words}`} className="border-t border-dashed border-rule">
                <td className="py-1 pr-3 font-semibold">{line.piece_name}</td>
                <td className="pr-3">{line.words}</td>
                <td className="pr-3 text-right text-soft">
                  {line.cells} {line.cells === 1 ? "cell" : "cells"}
                </td>
                <td className="pr-3 text-right">
                  {line.before_cm2 > 0 ? change(line.before_cm2, line.after_cm2) : ""}
                </td>
                <td className="text-right text-soft">
                  {line.greatest_move_mm > 0 ? TEXT.movesMm(line.greatest_move_mm.toFixed(1)) : ""}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {left.length > 0 && (
        <details className="mt-2" open={left.length < 4}>
          <summary className="cursor-pointer text-soft">
            {TEXT.wouldBeLeft(left.length, left.length === 1 ? "cell" : "cells")}
          </summary>
          <ul>
            {left.slice(0, 12).map((c) => (
              <li key={`${c.wearer}${c.pose}`}>
                <button
                  type="button"
                  className="cursor-pointer hover:not-disabled:text-heron disabled:cursor-default"
                  disabled={c.pose.startsWith(MOTION)}
                  onClick={() => set({ wearer: c.wearer, pose: c.pose, sheet: false, live: null, step: "clear" })}
                >
                  {nameOf(c)}
                </button>
                <span className="text-soft">{TEXT.cm3(c.after_cm2.toFixed(2), c.why)}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
