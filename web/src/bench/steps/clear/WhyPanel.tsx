import clsx from "clsx";
import { useState } from "react";
import { type Remedy, useExplain, useWaivers } from "../../../api/clearing";
import type { Rotations } from "../../../api/client";
import { useMoveOnRail } from "../../../api/hooks";
import { useOwnPose } from "../../../api/posing";
import { fromTheSkin, pairsOver } from "../../../recipe/pairs";
import { useRoomOf } from "../../../store/room";
import { Button } from "../../../ui/controls";
import { Choice } from "../../../ui/Select";
import type { ClearProps } from "./ClearPanel";
import { useClearSteps } from "./clearSteps";
import { TEXT } from "./texts";

const FIGURES: [keyof Remedy, (n: number) => string][] = [
  ["move_mm", (n) => TEXT.movesMm2(n.toFixed(1))],
  ["edges_percent", (n) => TEXT.edges(n.toFixed(1))],
  ["folds_degrees", (n) => TEXT.folds(n.toFixed(1))],
  ["hidden", (n) => `${n.toLocaleString("en-GB")} faces hidden`],
  ["worse", (n) => TEXT.worse(n, n === 1 ? "neighbour" : "neighbours")],
];

/** Why something shows here, by undoing one factor at a time, and the remedies that were tried, the best first. */
export function WhyPanel({ production, piece, fitting, onKeep, ease }: ClearProps & { ease: number }) {
  const { set } = useRoomOf("set");
  const { found, problem, ask, stop, reset } = useExplain();
  const { apply } = useClearSteps({ production, piece, fitting, onKeep });
  const move = useMoveOnRail();
  const { keep } = useOwnPose();
  const { waive } = useWaivers();
  const name = fitting.names.get(piece.id) ?? piece.name;
  const leave = (reason: string) =>
    fitting.wearer &&
    fitting.pose &&
    waive.mutate({ wearer: fitting.wearer.id, pose: fitting.pose.name, over: name, reason, by_shots: true });
  const failing = pairsOver(fitting.measured?.figures, name).filter((p) => p.places.length > 0);
  const [chosen, setChosen] = useState<string | null>(null);
  const pair = failing.find((p) => p.under === chosen) ?? failing[0];
  if (!pair) return null;
  const causes = found?.causes.filter((c) => c.is_cause) ?? [];
  const others = found?.causes.filter((c) => !c.is_cause) ?? [];
  const below = async (other: string) => {
    const order = fromTheSkin(fitting.rail);
    const from = order.findIndex((p) => p.id === piece.id);
    const to = order.findIndex((p) => fitting.names.get(p.id) === other);
    for (let step = from; step > to; step--) await move.mutateAsync({ piece: piece.id, outwards: false });
  };
  const take = (remedy: Remedy) => {
    if (remedy.kind === "leave") leave(remedy.do.reason as string);
    else if (remedy.kind === "reorder") void below(remedy.do.swap as string);
    else if (remedy.kind === "nudge") {
      const made = remedy.do as { pose: string; rotations: Rotations };
      keep.mutate({ label: made.pose, rotations: made.rotations }, { onSuccess: (p) => p && set({ pose: p.name }) });
    } else apply(remedy, ease);
  };
  return (
    <section aria-label={TEXT.why} className="mt-2 border-t border-dashed border-rule pt-2">
      {failing.length > 1 && (
        <Choice
          word={TEXT.whatShows}
          className="mb-1.5"
          value={pair.under}
          disabled={!!found && !found.done}
          onChoose={(v) => {
            setChosen(v);
            reset();
          }}
        >
          {failing.map((p) => (
            <option key={p.under} value={p.under}>
              {`${p.under}, ${p.area_cm2.toFixed(2)} cm²`}
            </option>
          ))}
        </Choice>
      )}
      {!found && (
        <Button
          className="w-full"
          disabled={piece.status === "waiting"}
          onClick={() =>
            ask({ cell: fitting.asked, over: name, under: pair.under, wearer: fitting.wearer?.id, ease: ease / 1000 })
          }
        >
          {TEXT.whyAndWhatWould}
        </Button>
      )}
      {problem && <p role="alert">{problem}</p>}
      {found && (
        <>
          <ul aria-label={TEXT.causes} className="text-[12.5px]">
            {causes.map((c) => (
              <li key={c.kind} className="flex gap-1.5 py-0.5">
                <span aria-hidden className="mt-[6px] h-[7px] w-[7px] shrink-0 rounded-full bg-ink" />
                <span className="first-letter:uppercase">{c.words}</span>
              </li>
            ))}
            {found.done && !causes.length && <li>{TEXT.noOneFactorAlone}</li>}
          </ul>
          {others.length > 0 && (
            <details className="text-[12px] text-soft">
              <summary className="cursor-pointer">{TEXT.moreUndoneAndNot(others.length)}</summary>
              <ul>
                {others.map((c) => (
                  <li key={c.kind} className="flex justify-between gap-2">
                    <span className="first-letter:uppercase">{c.words}</span>
                    <span className="shrink-0">{TEXT.cmLeft(c.left_cm2.toFixed(2))}</span>
                  </li>
                ))}
              </ul>
            </details>
          )}
          {(found.remedies.length > 0 || found.done) && (
            <h3 className="mt-2 font-semibold">{TEXT.triedTheBestFirst}</h3>
          )}
          <ul aria-label={TEXT.remedies}>
            {found.remedies.map((r) => (
              <RemedyRow key={r.words} remedy={r} onTake={() => take(r)} />
            ))}
            {found.done && !found.remedies.length && <li className="text-soft">{TEXT.nothingThatWasTried}</li>}
          </ul>
          {!found.done && (
            <p className="mt-1 flex items-center text-soft" aria-live="polite">
              {found.trying}…
              <Button look="quiet" className="ml-auto px-1" onClick={stop}>
                {TEXT.stop}
              </Button>
            </p>
          )}
        </>
      )}
      <Leave piece={name} wearer={fitting.wearer?.id} pose={fitting.pose?.name} />
    </section>
  );
}

function RemedyRow({ remedy, onTake }: { remedy: Remedy; onTake(): void }) {
  const told = FIGURES.filter(([k]) => (remedy[k] as number) > 0).map(([k, say]) => say(remedy[k] as number));
  return (
    <li className="border-b border-dashed border-rule py-1 last:border-0">
      <div className="flex items-center gap-2">
        <span className="min-w-0 flex-1">{remedy.words}</span>
        <span className={clsx("shrink-0 font-semibold", remedy.holds ? "text-moss" : "text-ink")}>
          {remedy.kind === "leave" ? "unseen" : remedy.holds ? "holds" : TEXT.cmLeft2(remedy.area_cm2.toFixed(2))}
        </span>
        <Button className="px-2 py-1" onClick={onTake} aria-label={TEXT.doIt(remedy.words)}>
          {TEXT.doIt2}
        </Button>
      </div>
      {told.length > 0 && <p className="text-[12px] text-soft">{told.join(" · ")}</p>}
    </li>
  );
}

/** Left as it is, for a reason that stays on the list. */
function Leave({ piece, wearer, pose }: { piece: string; wearer?: number; pose?: string }) {
  const { list, waive, drop } = useWaivers();
  const [reason, setReason] = useState("");
  const [open, setOpen] = useState(false);
  if (wearer === undefined || !pose) return null;
  const left = list.find((w) => w.wearer === wearer && w.pose === pose && w.over === piece);
  if (left)
    return (
      <p className="mt-2 flex items-baseline gap-2 text-[12.5px]">
        <span>
          {TEXT.leftAsItIs} <em>{left.reason}</em> <span className="text-soft">({left.author})</span>
        </span>
        <Button look="quiet" className="ml-auto px-1" onClick={() => drop.mutate(left.id)}>
          {TEXT.countItAgain}
        </Button>
      </p>
    );
  if (!open)
    return (
      <Button look="quiet" className="-ml-3 mt-1" onClick={() => setOpen(true)}>
        {TEXT.leaveItAsIt}
      </Button>
    );
  return (
    <form
      className="mt-2 flex gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (reason.trim()) waive.mutate({ wearer, pose, over: piece, reason: reason.trim(), by_shots: false });
        setOpen(false);
      }}
    >
      <input
        aria-label={TEXT.reasonToLeaveIt}
        placeholder={TEXT.reasonNeverSeenFrom}
        className="min-w-0 flex-1 rounded-[3px] border border-rule bg-card px-1.5 py-1"
        value={reason}
        maxLength={200}
        onChange={(e) => setReason(e.target.value)}
      />
      <Button type="submit" disabled={!reason.trim()}>
        {TEXT.leaveIt}
      </Button>
    </form>
  );
}
