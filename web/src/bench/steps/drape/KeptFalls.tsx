import { Film, X } from "lucide-react";
import { useFalls } from "../../../api/drape";
import { useRoom } from "../../../store/room";
import { Button } from "../../../ui/controls";
import { TEXT } from "./texts";

/** The whole falls that are kept of a piece: seen again on the stage, or dropped. */
export function KeptFalls({ piece, onSee }: { piece: number; onSee(fall: number): Promise<void> }) {
  const { kept, drop } = useFalls(piece);
  if (!kept.length) return null;
  const see = (fall: number) =>
    onSee(fall).catch((problem) =>
      useRoom.getState().say({ kind: "problem", text: String(problem.message ?? problem) }),
    );
  return (
    <section aria-label={TEXT.keptFalls} className="mt-2 border-t border-dashed border-rule pt-1.5">
      <p className="text-soft">{TEXT.keptWhole}</p>
      <ul>
        {kept.map((fall) => (
          <li key={fall.id} className="flex items-baseline gap-2">
            <button
              type="button"
              className="flex min-w-0 cursor-pointer items-baseline gap-1.5 text-left hover:text-heron"
              onClick={() => see(fall.id)}
            >
              <Film size={12} className="shrink-0 self-center" />
              <span className="truncate">{fall.label}</span>
            </button>
            <span className="ml-auto shrink-0 text-[12px] text-soft">
              {(fall.frames / 24).toFixed(1)} s, {(fall.bytes / 1e6).toFixed(1)} {TEXT.mb}
              {fall.stale && TEXT.ofAnEarlierCut}
            </span>
            <Button
              look="quiet"
              className="px-1"
              aria-label={TEXT.drop(fall.label)}
              onClick={() => drop.mutate(fall.id)}
            >
              <X size={13} />
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
