import clsx from "clsx";
import { type Batch, useCancelBatch, useLatestBatch } from "../../api/stock";
import { Button } from "../../ui/controls";
import { TEXT } from "./texts";

const COLOUR: Record<Batch["rows"][number]["state"], string> = {
  waiting: "text-soft",
  done: "text-moss",
  mended: "text-heron",
  "needs you": "text-amber",
  refused: "text-amber",
  cancelled: "text-soft",
};

/** What becomes of each file taken in, as it happens. */
export function BatchRows({ onClose }: { onClose(): void }) {
  const batch = useLatestBatch();
  const cancel = useCancelBatch();
  const rows = batch.data?.rows ?? [];
  const done = rows.filter((r) => r.state !== "waiting").length;
  if (!batch.data) return null;
  return (
    <section aria-label={TEXT.takenIn} className="border-b border-rule bg-card px-5 py-2.5 text-[13px]">
      <div className="flex items-baseline gap-3">
        <h2 className="font-title text-[15px] font-semibold">
          {done < rows.length ? TEXT.takingInOf(done, rows.length) : TEXT.takenIn}
        </h2>
        {done < rows.length && (
          <Button look="quiet" className="px-0 py-0" onClick={() => cancel.mutate(batch.data?.id ?? 0)}>
            {TEXT.stop}
          </Button>
        )}
        <Button look="quiet" className="ml-auto px-0 py-0" onClick={onClose}>
          {TEXT.close}
        </Button>
      </div>
      <div className="my-1.5 h-px bg-rule">
        <div className="h-px bg-heron" style={{ width: `${(100 * done) / Math.max(rows.length, 1)}%` }} />
      </div>
      <ul className="max-h-32 overflow-y-auto">
        {rows.map((row) => (
          <li key={row.id} className="flex gap-3 py-0.5">
            <span className="w-44 shrink-0 truncate">{row.file_name}</span>
            <span className={clsx("w-20 shrink-0", COLOUR[row.state])}>{row.state}</span>
            <span className="text-soft">{row.why || (row.state === "waiting" ? "" : TEXT.nothingWrong)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
