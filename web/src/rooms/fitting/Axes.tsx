import clsx from "clsx";
import { Maximize2 } from "lucide-react";
import type { Pose, Production, TrialCell, Wearer } from "../../api/client";
import { useRoom } from "../../state/room";
import { Mark } from "../../ui/controls";

/** The worst cell of a row or column, or none if nothing is measured. */
export function worst(cells: TrialCell[]): { clearance: number; holds: boolean } | null {
  const measured = cells.flatMap((c) => (c.figures ? [c.figures] : []));
  if (!measured.length) return null;
  const failing = measured.filter((f) => !f.holds);
  return {
    clearance: Math.min(...(failing.length ? failing : measured).map((f) => f.clearance_mm)),
    holds: failing.length === 0,
  };
}

function version(shape: Record<string, number>): string {
  return Object.entries(shape)
    .map(([k, v]) => `${k}${v.toFixed(3)}`)
    .join("");
}

export function CastAxis({ production, wearer }: { production: Production; wearer: Wearer | undefined }) {
  const { set } = useRoom();
  return (
    <nav aria-label="Cast" className="min-h-0 overflow-y-auto bg-chalk/50">
      {production.cast.map((w) => {
        const mark = worst(production.trial?.cells.filter((c) => c.wearer === w.id) ?? []);
        const here = w.id === wearer?.id;
        return (
          <button
            key={w.id}
            type="button"
            aria-pressed={here}
            onClick={() => set({ wearer: w.id, live: null })}
            className={clsx(
              "relative flex w-full cursor-pointer flex-col items-center border-b border-dashed border-rule px-1 pt-2 pb-1.5",
              here ? "bg-card shadow-[inset_-3px_0_0_var(--color-heron)]" : "hover:bg-card/60",
            )}
          >
            <img
              src={`/api/pictures/wearer/${w.id}.png?v=${version(w.shape)}`}
              alt=""
              width={72}
              height={84}
              className="h-[84px]"
            />
            <span className={clsx("text-[12.5px]", here ? "font-semibold" : "text-soft")}>{w.name}</span>
            {mark && (
              <span className="absolute top-1.5 right-1.5">
                <Mark {...mark} short />
              </span>
            )}
          </button>
        );
      })}
    </nav>
  );
}

export function PoseAxis({ production, pose }: { production: Production; pose: Pose | undefined }) {
  const { set } = useRoom();
  const wearer = useRoom((s) => s.wearer) ?? production.cast[0]?.id;
  const shape = production.cast.find((w) => w.id === wearer)?.shape ?? {};
  return (
    <nav aria-label="Poses" className="flex min-w-0 overflow-x-auto border-x border-t border-rule bg-chalk/50">
      {production.poses.map((p) => {
        const mark = worst(production.trial?.cells.filter((c) => c.pose === p.name) ?? []);
        const here = p.name === pose?.name;
        return (
          <button
            key={p.name}
            type="button"
            aria-pressed={here}
            onClick={() => set({ pose: p.name })}
            className={clsx(
              "relative flex w-[96px] shrink-0 cursor-pointer flex-col items-center justify-end border-r border-dashed border-rule pb-1.5",
              here ? "bg-card shadow-[inset_0_3px_0_var(--color-heron)]" : "hover:bg-card/60",
            )}
          >
            <img
              src={`/api/pictures/wearer/${wearer}.png?pose=${p.name}&v=${version(shape)}`}
              alt=""
              width={62}
              height={72}
              className="h-[72px]"
            />
            <span className={clsx("text-[12.5px]", here ? "font-semibold" : "text-soft")}>{p.label}</span>
            {mark && (
              <span className="absolute top-1.5 right-1.5">
                <Mark {...mark} short />
              </span>
            )}
          </button>
        );
      })}
    </nav>
  );
}

/** The whole sheet in miniature; it unfolds. */
export function Corner({ production }: { production: Production }) {
  const { set, sheet } = useRoom();
  const trial = production.trial;
  return (
    <button
      type="button"
      onClick={() => set({ sheet: !sheet })}
      className="flex cursor-pointer flex-col items-center justify-center gap-1.5 border-t border-rule bg-card hover:bg-chalk/40"
    >
      <span
        className="grid gap-[2px]"
        style={{ gridTemplateColumns: `repeat(${production.poses.length}, 10px)` }}
        aria-hidden
      >
        {production.cast.flatMap((w) =>
          production.poses.map((p) => {
            const f = trial?.cells.find((c) => c.wearer === w.id && c.pose === p.name)?.figures;
            return (
              <span
                key={`${w.id}${p.name}`}
                className={clsx(
                  "h-[8px] w-[10px]",
                  !f ? "border border-dashed border-rule" : f.holds ? "bg-moss/50" : "bg-coral",
                )}
              />
            );
          }),
        )}
      </span>
      <span className="flex items-center gap-1 text-[11.5px] text-soft">
        <Maximize2 size={11} /> {sheet ? "Fold sheet" : "Unfold sheet"}
      </span>
    </button>
  );
}
