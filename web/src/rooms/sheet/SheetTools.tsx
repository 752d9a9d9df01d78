import { Download } from "lucide-react";
import { Popover } from "radix-ui";
import { useTrialRuns } from "../../api/clearing";
import type { Production, Trial } from "../../api/client";
import { useCauses, useSheetMotion } from "../../api/hunts";
import { useMotions } from "../../api/posing";
import { Check } from "../../ui/Check";
import { Button } from "../../ui/controls";
import { Choice } from "../../ui/Select";
import { CellChoice } from "./CellChoice";
import type { Order } from "./SheetGrid";
import { TEXT } from "./texts";

interface Props {
  production: Production;
  /** The newest run; before there is one, only what it is to hold can be chosen. */
  trial: Trial | null;
  order: Order;
  piece: string;
  other: number | null;
  /** What the comparison comes to, once there is one. */
  compared: string | null;
  /** Whether only what the shots see counts. */
  byShots: boolean;
  onByShots(byShots: boolean): void;
  onOrder(order: Order): void;
  onPiece(piece: string): void;
  onOther(run: number | null): void;
}

/** How the sheet is laid out, what of it counts, what it stands beside, and what it is taken away as. */
export function SheetTools(props: Props) {
  const { production, trial, order, piece, other, compared } = props;
  const runs = useTrialRuns(true);
  const causes = useCauses();
  const worn = [...new Set(production.pieces.map((p) => p.name))];
  if (!trial)
    return (
      <div className="flex gap-3 border-b border-rule px-5 py-1.5 text-[13px]">
        <CellChoice production={production} />
        <Motions production={production} />
      </div>
    );
  const unexplained = trial.cells.filter((c) => c.figures && !c.figures.holds && !c.causes).length;
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-rule px-5 py-1.5 text-[13px]">
      <Choice word={TEXT.order} value={order} onChoose={(v) => props.onOrder(v as Order)}>
        <option value="cast">{TEXT.wearersByPoses}</option>
        <option value="worst">{TEXT.worstFirst}</option>
        <option value="place">{TEXT.byWhereItShows}</option>
        <option value="cause">{TEXT.byWhatItComes}</option>
      </Choice>
      {order === "cause" && unexplained > 0 && trial.state !== "running" && (
        <Button className="px-2 py-1" disabled={causes.isPending} onClick={() => causes.mutate(trial.id)}>
          {TEXT.explain(unexplained, unexplained === 1 ? "cell" : "cells")}
        </Button>
      )}
      <Choice word={TEXT.piece} value={piece} onChoose={(v) => props.onPiece(v)}>
        <option value="">{TEXT.allOfTheRail}</option>
        {worn.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </Choice>
      {production.shots.length > 0 && (
        <Choice
          word={TEXT.counts}
          value={props.byShots ? "shots" : "all"}
          onChoose={(v) => props.onByShots(v === "shots")}
        >
          <option value="all">{TEXT.allThatShows}</option>
          <option value="shots">{TEXT.whatTheShotsSee}</option>
        </Choice>
      )}
      <CellChoice production={production} />
      <Motions production={production} />
      <Choice word={TEXT.beside} value={other ?? ""} onChoose={(v) => props.onOther(v ? Number(v) : null)}>
        <option value="">{TEXT.noOtherRun}</option>
        {(runs.data ?? [])
          .filter((r) => r.id !== trial.id)
          .map((r) => (
            <option key={r.id} value={r.id}>
              {TEXT.ofHeld(
                new Date(r.started_at).toLocaleString("en-GB", { dateStyle: "short", timeStyle: "short" }),
                r.holding,
                r.total,
              )}
            </option>
          ))}
      </Choice>
      {compared && <span aria-live="polite">{compared}</span>}
      <span className="ml-auto flex items-center gap-2 text-soft">
        <Download size={13} aria-hidden className="hidden xl:inline" />
        {(["png", "csv", "json"] as const).map((kind) => (
          <a key={kind} className="hover:text-ink" href={`/api/trials/${trial.id}.${kind}`} download>
            {kind.toUpperCase()}
          </a>
        ))}
      </span>
    </div>
  );
}

/** Which motions stand on the sheet; each is measured in its worst frame. */
function Motions({ production }: { production: Production }) {
  const motions = useMotions();
  const put = useSheetMotion();
  const there = new Set(production.motions.map((m) => m.name));
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button className="px-2 py-1">{TEXT.motions(there.size ? ` · ${there.size}` : "")}</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          aria-label={TEXT.motionsOnTheSheet}
          className="z-40 w-60 rounded-[4px] border border-rule bg-card p-3 text-[13px] shadow-md"
        >
          <p className="mb-1.5 text-[12px] text-soft">{TEXT.aMotionStandsOn}</p>
          {motions.data?.map((m) => (
            <Check
              key={m.name}
              className="py-0.5"
              checked={there.has(m.name)}
              disabled={put.isPending}
              onChange={(on) => put.mutate({ motion: m.name, there: on })}
            >
              {m.label}
              <span className="ml-auto text-soft">{m.seconds.toFixed(1)} s</span>
            </Check>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
