import { useState } from "react";
import { type ProductionLine, useChangeProductions } from "../../api/production/productions";
import { Button } from "../../ui/controls";
import { TEXT } from "./texts";

/** What lies in the bin; deleting it for good is asked once more. */
export function Bin({ binned }: { binned: ProductionLine[] }) {
  const { restore, emptyBin } = useChangeProductions();
  const [sure, setSure] = useState(false);
  if (!binned.length) return null;
  return (
    <section className="mt-10 border-t border-rule pt-4" aria-label={TEXT.binned}>
      <div className="flex items-center gap-3">
        <h2 className="font-title text-[17px] font-semibold">{TEXT.binned}</h2>
        <span className="mr-auto text-[12.5px] text-soft">{TEXT.binHint}</span>
        {sure && (
          <Button look="quiet" onClick={() => setSure(false)}>
            {TEXT.cancel}
          </Button>
        )}
        <Button
          disabled={emptyBin.isPending}
          onClick={() => (sure ? emptyBin.mutate(undefined, { onSettled: () => setSure(false) }) : setSure(true))}
        >
          {sure ? TEXT.deleteForGood(binned.length) : TEXT.emptyBin}
        </Button>
      </div>
      <ul className="mt-2">
        {binned.map((p) => (
          <li key={p.id} className="flex items-center gap-4 border-b border-dashed border-rule py-1.5">
            <span className="min-w-0 truncate font-semibold">{p.name}</span>
            <span className="text-[12.5px] text-soft">{TEXT.what(p.wearers, p.pieces, p.poses)}</span>
            <Button look="quiet" className="ml-auto" onClick={() => restore.mutate(p.id)}>
              {TEXT.restore}
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
