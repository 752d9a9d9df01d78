import { Scissors } from "lucide-react";
import { type ApartLine, useAparts, useBringDressed } from "../../api/apart";
import { ACCEPT } from "../../api/wire/uploads";
import { useRoom } from "../../store/room";
import { FileButton } from "../../ui/FileButton";
import { TEXT } from "./texts";

const STATE: Record<ApartLine["state"], string> = {
  open: TEXT.inWork,
  taking: TEXT.beingTakenApart,
  taken: TEXT.takenApart,
  failed: TEXT.needsYou,
};

/** Dressed bodies in work: bring one in, go on with one. */
export function Dressed() {
  const set = useRoom((s) => s.set);
  const lines = useAparts();
  const bring = useBringDressed();
  return (
    <section aria-label={TEXT.dressedBodies}>
      <h2 className="mt-4 border-b border-dashed border-rule pb-1 text-[11.5px] text-soft">{TEXT.dressedBodies}</h2>
      <ul>
        {lines.data?.slice(0, 6).map((line) => (
          <li key={line.id}>
            <button
              type="button"
              className="flex w-full cursor-pointer flex-col py-1 text-left hover:text-heron"
              onClick={() => set({ apart: line.id })}
            >
              <span className="truncate">{line.file_name}</span>
              <span className={line.state === "failed" ? "text-[11.5px] text-amber" : "text-[11.5px] text-soft"}>
                {STATE[line.state]}
              </span>
            </button>
          </li>
        ))}
      </ul>
      <FileButton
        label={TEXT.filesOfADressed}
        accept={ACCEPT}
        className="mt-1 px-0 text-heron"
        disabled={bring.isPending}
        onFiles={(files) => bring.mutate(files, { onSuccess: (made) => set({ apart: made.id }) })}
      >
        <Scissors size={13} /> {bring.isPending ? TEXT.looking : TEXT.takeOneApart}
      </FileButton>
    </section>
  );
}
