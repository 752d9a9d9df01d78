import clsx from "clsx";
import { cellAsked, type Piece, type Production, type Step } from "../../api/client";
import { useChangeRecipe } from "../../api/hooks";
import { useRoom } from "../../state/room";
import { Button } from "../../ui/controls";
import { BindPanel } from "./BindPanel";
import { ClearPanel } from "./ClearPanel";
import { DrapePanel } from "./DrapePanel";
import { FinishPanel } from "./FinishPanel";
import { FitPanel } from "./FitPanel";
import { FollowPanel } from "./FollowPanel";
import { PlacePanel } from "./PlacePanel";
import { ReceivePanel } from "./ReceivePanel";
import {
  type BenchStep,
  benchStep,
  cutBefore,
  finishes,
  fresh,
  KINDS,
  LABEL,
  withStep,
  withWeigh,
  withWork,
  workOf,
} from "./recipe";
import { summary } from "./summary";
import type { Falling } from "./useFalling";
import type { Fitting } from "./useFitting";
import { WorkPanel } from "./WorkPanel";

interface Props {
  production: Production;
  piece: Piece;
  fitting: Fitting;
  falling: Falling;
}

/** The steps of one piece on one thread, inked up to where the piece stands. */
export function Bench({ production, piece, fitting, falling }: Props) {
  const { step: open, set } = useRoom();
  const change = useChangeRecipe();
  const done = new Set(piece.recipe.steps?.map((s) => benchStep(s.kind)));
  if (finishes(piece.recipe)) done.add("finish");
  const reached = Math.max(...KINDS.map((k, i) => (done.has(k) ? i : -1)));
  const next = KINDS.find((k, i) => i > reached && k !== "work" && k !== "finish"); // those are there to be done, not owed
  const keep = (step: Step, label: string) => change.mutate({ piece, recipe: withStep(piece.recipe, step), label });
  const work = (steps: Step[], label: string) => change.mutate({ piece, recipe: withWork(piece.recipe, steps), label });
  const weigh = (steps: Step[], label: string) =>
    change.mutate({ piece, recipe: withWeigh(piece.recipe, steps), label });
  const poseKeyed = (values: Record<string, number>) => {
    const { body: _, ...cell } = cellAsked(fitting.shape, fitting.chosen);
    const made = workOf(piece.recipe);
    const rest = made.at(-1)?.kind === "adjust" ? made.slice(0, -1) : made;
    const recipe = withStep(withWork(piece.recipe, rest), { kind: "fix", cell, strokes: [], values });
    change.mutate({ piece, recipe, label: `Adjusters, only in ${fitting.chosen?.label.toLowerCase()}` });
  };
  const mesh = fitting.worn.find((w) => w.piece.id === piece.id)?.mesh;
  const under = fitting.rail
    .slice(fitting.rail.findIndex((p) => p.id === piece.id) + 1)
    .flatMap((p) => (p.geometry ? [{ name: p.name, geometry: p.finished ?? p.geometry }] : []));
  const take = (kind: BenchStep) => {
    const last = KINDS[Math.max(0, KINDS.indexOf(kind) - 1)];
    change.mutate({ piece, recipe: cutBefore(piece.recipe, kind), label: `Back to ${LABEL[last].toLowerCase()}` });
  };
  // by default a piece rests on, and is kept off, all that is worn under it
  const restsOn = (kind: BenchStep) =>
    ["fit", "bind", "follow"].includes(kind) ? { over: under.map((u) => u.geometry) } : {};
  const busy = piece.status === "waiting" || change.isPending;
  return (
    <section aria-label="Bench" className="px-4 pt-3 pb-5">
      <header className="mb-1.5 flex items-baseline gap-2">
        <h2 className="font-title text-[16px] font-semibold">Bench</h2>
        <span className="ml-auto truncate text-soft">
          {piece.name} · {piece.author}
        </span>
      </header>
      {piece.error && (
        <div role="alert" className="mb-2 rounded-[3px] border border-amber bg-amber-pale/50 px-3 py-2">
          <p className="font-semibold">{piece.error.where}</p>
          <p>
            {piece.error.what}. {piece.error.todo}
          </p>
        </div>
      )}
      <ol>
        {KINDS.map((kind, i) => {
          const inked = done.has(kind);
          const here = open === kind;
          const working = busy && inked && kind !== "place" && kind !== "work" && !piece.report[kind];
          return (
            <li key={kind} className="relative pl-6">
              {i < KINDS.length - 1 && (
                <span
                  aria-hidden
                  className={clsx(
                    "absolute top-4 bottom-[-7px] left-[6px] border-l-2",
                    inked && done.has(KINDS[i + 1]) ? "border-heron" : "border-dashed border-rule",
                  )}
                />
              )}
              <span
                aria-hidden
                className={clsx(
                  "absolute top-[7px] left-0 h-[13px] w-[13px] rounded-full border-2",
                  inked ? "border-heron bg-heron" : "border-rule bg-card",
                )}
              />
              <button
                type="button"
                aria-expanded={here}
                onClick={() => {
                  const { weights, map } = useRoom.getState();
                  const plain = map === "weights" || map === "faults" ? "cloth" : map;
                  set({ step: here ? null : kind, picking: null, map: plain, weights: { ...weights, tool: null } });
                }}
                className="flex w-full cursor-pointer items-baseline gap-3 py-1 text-left hover:text-heron"
              >
                <span className={clsx("text-[13.5px]", !inked && "text-soft", here && "font-semibold")}>
                  {LABEL[kind]}
                </span>
                <span className="ml-auto truncate text-[12px] text-soft">
                  {working ? "working…" : inked ? summary(kind, piece) : kind === next ? "next" : ""}
                </span>
              </button>
              {here && (
                <div className="mb-2 rounded-[3px] border border-rule bg-paper/40 px-3 py-2.5">
                  {kind === "receive" && <ReceivePanel piece={piece} onKeep={keep} />}
                  {kind === "place" && <PlacePanel piece={piece} onKeep={keep} wearer={fitting.wearer?.id} />}
                  {kind === "fit" && (
                    <FitPanel piece={piece} onKeep={keep} mesh={mesh} wearer={fitting.wearer?.id} under={under} />
                  )}
                  {kind === "work" && (
                    <WorkPanel
                      piece={piece}
                      mesh={mesh}
                      onWork={work}
                      poseName={fitting.chosen?.label.toLowerCase() ?? "this pose"}
                      onPoseKeyed={done.has("bind") ? poseKeyed : null}
                    />
                  )}
                  {kind === "bind" && (
                    <BindPanel piece={piece} mesh={mesh} under={under} onKeep={keep} onWeigh={weigh} />
                  )}
                  {kind === "follow" && <FollowPanel piece={piece} onKeep={keep} />}
                  {kind === "clear" && (
                    <ClearPanel production={production} piece={piece} fitting={fitting} onKeep={keep} />
                  )}
                  {kind === "drape" && (
                    <DrapePanel production={production} piece={piece} fitting={fitting} falling={falling} />
                  )}
                  {kind === "finish" && (
                    <FinishPanel
                      piece={piece}
                      busy={busy}
                      onKeep={(finish, label) => change.mutate({ piece, recipe: { ...piece.recipe, finish }, label })}
                    />
                  )}
                  {kind !== "clear" && kind !== "drape" && kind !== "finish" && (
                    <div className="mt-2.5 flex gap-2">
                      {!inked && kind !== "work" && (
                        <Button
                          look="primary"
                          disabled={busy || KINDS.indexOf(kind) > KINDS.indexOf(next ?? "clear")}
                          onClick={() => keep({ ...fresh(kind), ...restsOn(kind) }, LABEL[kind])}
                        >
                          {LABEL[kind]} it
                        </Button>
                      )}
                      {!inked && kind !== "work" && next && KINDS.indexOf(kind) > KINDS.indexOf(next) && (
                        <p className="text-soft">Do {LABEL[next].toLowerCase()} first.</p>
                      )}
                      {inked && kind !== "receive" && (
                        <Button look="quiet" className="px-0" disabled={busy} onClick={() => take(kind)}>
                          {kind === "work" ? "Take all work back" : "Take this step back"}
                        </Button>
                      )}
                    </div>
                  )}
                  {(kind === "clear" || kind === "drape" || kind === "finish") && inked && (
                    <Button look="quiet" className="mt-1 px-0" disabled={busy} onClick={() => take(kind)}>
                      Take all {{ clear: "clearing", drape: "draping", finish: "finishing" }[kind]} back
                    </Button>
                  )}
                </div>
              )}
            </li>
          );
        })}
      </ol>
    </section>
  );
}
