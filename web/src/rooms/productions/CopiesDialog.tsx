import { useState } from "react";
import { useChangeCopies, useCopies } from "../../api/production/copies";
import { useRoomOf } from "../../store/room";
import { Button } from "../../ui/controls";
import { DialogFrame } from "../../ui/DialogFrame";
import { NameForm } from "../../ui/NameForm";
import { CopyDetail } from "./CopyDetail";
import { CopyList } from "./CopyList";
import { TEXT } from "./texts";

/** The working copies of the open production: kept, looked at, gone back to. */
export default function CopiesDialog() {
  const { set } = useRoomOf("set");
  const { data, error } = useCopies();
  const { keep } = useChangeCopies();
  const [naming, setNaming] = useState(false);
  const [chosen, setChosen] = useState<number | null>(null);
  const shown = data?.find((copy) => copy.id === chosen) ?? data?.[0];
  return (
    <DialogFrame
      title={TEXT.workingCopies}
      hint={TEXT.copiesHint}
      className="h-[min(600px,88vh)] w-[min(880px,94vw)]"
      onClose={() => set({ copies: false })}
      acts={<Button onClick={() => setNaming(true)}>{TEXT.keepAsItStands}</Button>}
      below={
        naming && (
          <div className="mt-2.5">
            <NameForm
              act={TEXT.keep}
              onName={(name) =>
                keep.mutate(name, {
                  onSuccess: () => {
                    setNaming(false);
                    setChosen(null);
                  },
                })
              }
              onCancel={() => setNaming(false)}
            />
          </div>
        )
      }
    >
      {shown ? (
        <div className="grid min-h-0 grid-cols-[minmax(0,2fr)_minmax(0,3fr)]">
          <CopyList copies={data ?? []} shown={shown.id} onShow={setChosen} />
          <CopyDetail key={shown.id} copy={shown} onDone={() => set({ copies: false })} />
        </div>
      ) : (
        <p className="p-6 text-soft">{error?.message ?? (data ? TEXT.noCopies : TEXT.readingCopies)}</p>
      )}
    </DialogFrame>
  );
}
