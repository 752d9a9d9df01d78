import clsx from "clsx";
import { Search } from "lucide-react";
import type { Production } from "../api/client";
import { useSheet } from "../api/hooks";
import { useRoomOf } from "../store/room";
import { Lamp, Wordmark } from "../ui/Lamp";
import { JobsButton } from "./jobs/JobsButton";
import { ProductionMenu } from "./ProductionMenu";
import { TEXT } from "./texts";
import { TourButton } from "./tour/TourButton";

const ROOMS = [
  ["fitting", TEXT.fitting],
  ["table", TEXT.cuttingTable],
  ["stock", TEXT.stockroom],
  ["packing", TEXT.packing],
] as const;

export function TopBar({ production }: { production: Production }) {
  const { place, set } = useRoomOf("place", "set");
  const trial = useSheet();
  const inOne = production.outfits.find((o) => o.id === trial?.of_outfit);
  const holding = trial?.cells.filter((c) => c.figures?.holds).length ?? 0;
  return (
    <header className="flex items-center gap-3 whitespace-nowrap border-b xl:gap-5 border-rule bg-card px-4">
      <Wordmark />
      <ProductionMenu name={production.name} />
      <nav className="ml-2 flex h-full items-stretch gap-1" aria-label={TEXT.rooms}>
        {ROOMS.map(([id, label]) => (
          <button
            key={id}
            data-room={id}
            type="button"
            aria-current={place === id ? "page" : undefined}
            onClick={() => set({ place: id })}
            className={clsx(
              "cursor-pointer border-b-2 px-3 text-[13.5px]",
              place === id ? "border-heron bg-chalk/60 text-ink" : "border-transparent text-soft hover:text-ink",
            )}
          >
            {label}
          </button>
        ))}
      </nav>
      <div className="ml-auto flex items-center gap-2.5">
        {trial && (
          <button
            type="button"
            className="cursor-pointer rounded-full border border-rule px-3 py-1 text-soft hover:border-heron"
            onClick={() => set({ place: "fitting", sheet: true })}
          >
            <span
              aria-hidden
              className={clsx(
                "mr-1.5",
                trial.state === "running" ? "text-heron" : holding === trial.total ? "text-moss" : "text-coral",
              )}
            >
              ●
            </span>
            {trial.state === "running" ? (
              TEXT.trial(trial.done, trial.total)
            ) : (
              <>
                {holding} {TEXT.of} {trial.total} {TEXT.hold}
                {inOne && <span className="hidden lg:inline">{TEXT.inOutfit(inOne.name)}</span>}
                {trial.stale && <span className="hidden lg:inline">{TEXT.beforeTheLastChange}</span>}
              </>
            )}
          </button>
        )}
        <button
          type="button"
          className="flex cursor-pointer items-center gap-2 rounded-full border border-rule px-3 py-1 text-soft hover:border-heron"
          onClick={() => set({ find: true })}
        >
          <Search size={13} /> {TEXT.findOrDo} <kbd className="font-text">/</kbd>
        </button>
        <TourButton />
        <JobsButton />
        <Lamp />
      </div>
    </header>
  );
}
