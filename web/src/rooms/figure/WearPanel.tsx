import { useWear, useWearing } from "../../api/binding";
import type { Production } from "../../api/client";
import { useRoomOf } from "../../store/room";
import { Button } from "../../ui/controls";
import { StagePanel } from "../../ui/StagePanel";
import { TEXT } from "./texts";

const WORD = { waiting: "waiting", done: "done", mended: "mended", needs: TEXT.needsYou } as const;
const LOOK = { waiting: "text-soft", done: "text-moss", mended: "text-heron", needs: "text-amber" } as const;

/** The outfit worn on the whole cast: a row for each piece on each wearer. */
export function WearPanel({ production }: { production: Production }) {
  const run = useWearing(true);
  const { start, stop } = useWear();
  const { set } = useRoomOf("set");
  const rows = run.data?.rows ?? [];
  const left = rows.filter((r) => r.state === "waiting").length;
  const running = run.data?.state === "running";
  const wearers = production.cast.filter((w) => rows.some((r) => r.wearer === w.id));
  const again = { onSuccess: () => void run.refetch() };
  return (
    <StagePanel title={TEXT.wearOnTheCast} label={TEXT.wearOnTheCast}>
      <p className="text-soft">{TEXT.looksAtEveryPiece}</p>
      <div className="mt-2 flex items-center gap-2">
        {running ? (
          <>
            <Button onClick={() => run.data && stop.mutate(run.data.id, again)}>{TEXT.stop}</Button>
            <span className="text-soft">{TEXT.left2(left)}</span>
          </>
        ) : (
          <Button
            look="primary"
            disabled={start.isPending || !production.pieces.length}
            onClick={() => start.mutate(null, again)}
          >
            {TEXT.wearItOnAll(production.cast.length)}
          </Button>
        )}
      </div>
      {running && (
        <div className="mt-2 h-1 bg-chalk">
          <div
            className="h-1 bg-heron"
            style={{ width: `${(100 * (rows.length - left)) / Math.max(rows.length, 1)}%` }}
          />
        </div>
      )}
      {wearers.map((wearer) => (
        <section key={wearer.id} className="mt-2.5 border-t border-dashed border-rule pt-1.5">
          <button
            type="button"
            className="cursor-pointer font-semibold hover:text-heron"
            onClick={() => set({ wearer: wearer.id, live: null })}
          >
            {wearer.name}
          </button>
          <ul>
            {rows
              .filter((r) => r.wearer === wearer.id)
              .map((r) => (
                <li key={r.piece} title={r.why} className="flex items-baseline gap-2">
                  <button
                    type="button"
                    className="min-w-0 cursor-pointer truncate hover:text-heron"
                    onClick={() => set({ wearer: wearer.id, piece: r.piece, live: null })}
                  >
                    {r.piece_name}
                  </button>
                  <span className={`ml-auto whitespace-nowrap ${LOOK[r.state]}`}>
                    {WORD[r.state]}
                    {r.state === "mended" && r.under_before !== null && r.under_after !== null && (
                      <span className="text-[11.5px] text-soft">
                        {" "}
                        {(100 * r.under_before).toFixed(1)} → {(100 * r.under_after).toFixed(1)} %
                      </span>
                    )}
                  </span>
                </li>
              ))}
          </ul>
          {rows
            .filter((r) => r.wearer === wearer.id && r.why && r.state !== "done")
            .map((r) => (
              <p key={r.piece} className="text-[11.5px] text-soft">
                {r.piece_name}: {r.why}
              </p>
            ))}
        </section>
      ))}
    </StagePanel>
  );
}
