import clsx from "clsx";
import { useEffect, useRef } from "react";
import type { Piece, Production, Step } from "../api/client";
import { useChangeRecipe, useDress, useTryAgain } from "../api/hooks";
import { item } from "../recipe/at";
import {
  type BenchStep,
  benchStep,
  cutBefore,
  easeFor,
  finishes,
  fresh,
  KINDS,
  LABEL,
  withStep,
} from "../recipe/recipe";
import { useRoom } from "../store/room";
import { Button, Hint } from "../ui/controls";
import { PanelButtons } from "../ui/PanelButtons";
import { FOLDERS } from "./registry";
import type { StepProps } from "./step";
import type { Falling } from "./steps/drape/useFalling";
import { TEXT } from "./texts";
import type { Fitting } from "./useFitting";

interface Props {
  production: Production;
  piece: Piece;
  fitting: Fitting;
  falling: Falling;
}

/** The steps of one piece on one thread, inked up to where the piece stands. */
export function Bench({ production, piece, fitting, falling }: Props) {
  const open = useRoom((room) => room.step);
  const change = useChangeRecipe();
  const dress = useDress();
  const again = useTryAgain();
  const done = new Set(piece.recipe.steps?.map((s) => benchStep(s.kind)));
  if (finishes(piece.recipe)) done.add("finish");
  const reached = Math.max(...KINDS.map((k, i) => (done.has(k) ? i : -1)));
  const next = KINDS.find((k, i) => i > reached && !FOLDERS[k].optional);
  const onRecipe = (recipe: Piece["recipe"], label: string) => change.mutate({ piece, recipe, label });
  const props: StepProps = {
    production,
    piece,
    fitting,
    falling,
    mesh: fitting.worn.find((w) => w.piece.id === piece.id)?.mesh,
    under: fitting.rail
      .slice(fitting.rail.findIndex((p) => p.id === piece.id) + 1)
      .flatMap((p) => (p.geometry ? [{ name: p.name, geometry: p.finished ?? p.geometry }] : [])),
    busy: piece.status === "waiting" || change.isPending,
    onKeep: (step, label) => onRecipe(withStep(piece.recipe, step), label),
    onRecipe,
  };
  return (
    <section aria-label={TEXT.bench} className="px-4 pt-3 pb-5">
      <header className="mb-1.5 flex items-baseline gap-2">
        <h2 className="font-title text-[16px] font-semibold">{TEXT.bench}</h2>
        <span className="ml-auto truncate text-soft">
          {piece.name} · {piece.author}
        </span>
      </header>
      {piece.status === "done" &&
        !piece.dressing &&
        piece.category !== "rigid" &&
        !done.has("fit") &&
        !done.has("bind") && (
          <Hint text={TEXT.placedFittedBound}>
            <Button
              look="primary"
              className="mb-2 w-full"
              disabled={dress.isPending}
              onClick={() => dress.mutate(piece.id)}
            >
              {TEXT.dress}
            </Button>
          </Hint>
        )}
      {piece.error && (
        <div role="alert" className="mb-2 rounded-[3px] border border-amber bg-amber-pale/50 px-3 py-2">
          <p className="font-semibold">{piece.error.where}</p>
          <p>
            {piece.error.what}. {piece.error.todo}
          </p>
          <Button className="mt-1.5" disabled={again.isPending} onClick={() => again.mutate(piece.id)}>
            {TEXT.tryAgain}
          </Button>
        </div>
      )}
      <ol>
        {KINDS.map((kind, i) => (
          <BenchRow
            key={kind}
            kind={kind}
            inked={done.has(kind)}
            thread={i === KINDS.length - 1 ? null : done.has(kind) && done.has(item(KINDS, i + 1))}
            open={open === kind}
            next={next}
            props={props}
          />
        ))}
      </ol>
    </section>
  );
}

interface RowProps {
  kind: BenchStep;
  /** The step has been done. */
  inked: boolean;
  /** The thread to the next step: inked or dashed; null after the last. */
  thread: boolean | null;
  open: boolean;
  /** The step that comes next. */
  next: BenchStep | undefined;
  props: StepProps;
}

/** One step: its knot on the thread, its result in figures, and its panel while it is open. */
function BenchRow({ kind, inked, thread, open, next, props }: RowProps) {
  const folder = FOLDERS[kind];
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (open) row.current?.scrollIntoView({ block: "nearest" });
  }, [open]);
  const reported = props.piece.report[kind];
  const working = props.busy && inked && !(Array.isArray(reported) ? reported.length : reported);
  return (
    <li ref={row} className="relative pl-6" data-step={kind}>
      {thread !== null && (
        <span
          aria-hidden
          className={clsx(
            "absolute top-4 bottom-[-7px] left-[6px] border-l-2",
            thread ? "border-heron" : "border-dashed border-rule",
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
        aria-expanded={open}
        onClick={() => openStep(open ? null : kind)}
        className="flex w-full cursor-pointer items-baseline gap-3 py-1 text-left hover:text-heron"
      >
        <span className={clsx("text-[13.5px]", !inked && "text-soft", open && "font-semibold")}>{LABEL[kind]}</span>
        <span className="ml-auto truncate text-[12px] text-soft">
          {working ? TEXT.working : inked ? folder.summary(props.piece) : kind === next ? "next" : ""}
        </span>
      </button>
      {open && (
        <div className="mb-2 rounded-[3px] border border-rule bg-paper/40 px-3 py-2.5">
          <folder.Panel {...props} />
          <StepActions kind={kind} inked={inked} next={next} props={props} />
        </div>
      )}
    </li>
  );
}

/** Open a step, or none; what was being picked or painted is put down. */
function openStep(step: BenchStep | null) {
  const { weights, map, set } = useRoom.getState();
  const plain = map === "weights" || map === "faults" ? "cloth" : map;
  set({ step, picking: null, map: plain, weights: { ...weights, tool: null } });
}

/** What begins a step that is not done yet, and what takes one back that is. */
function StepActions({ kind, inked, next, props }: Pick<RowProps, "kind" | "inked" | "next" | "props">) {
  const { piece, production, busy, under, onKeep, onRecipe } = props;
  const { takeBack, restsOnAll, begunInPanel } = FOLDERS[kind];
  const early = !!next && KINDS.indexOf(kind) > KINDS.indexOf(next);
  const begin = () => {
    const bare = { ...fresh(kind as Exclude<BenchStep, "work" | "finish">) } as Step;
    const step = bare.kind === "fit" ? { ...bare, ease: easeFor(piece.category, production.settings) } : bare;
    onKeep(restsOnAll ? ({ ...step, over: under.map((u) => u.geometry) } as Step) : step, LABEL[kind]);
  };
  const take = () => {
    const last = item(KINDS, Math.max(0, KINDS.indexOf(kind) - 1));
    onRecipe(cutBefore(piece.recipe, kind), TEXT.backTo(LABEL[last].toLowerCase()));
  };
  return (
    <PanelButtons>
      {!inked && !begunInPanel && (
        <Button look="primary" disabled={busy || early} onClick={begin}>
          {TEXT.it(LABEL[kind])}
        </Button>
      )}
      {!inked && !begunInPanel && early && <p className="text-soft">{TEXT.doFirst(LABEL[next].toLowerCase())}</p>}
      {inked && takeBack && (
        <Button look="quiet" className="px-0" disabled={busy} onClick={take}>
          {takeBack}
        </Button>
      )}
    </PanelButtons>
  );
}
