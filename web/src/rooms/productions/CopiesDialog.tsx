import { X } from "lucide-react";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useChangeCopies, useCopies } from "../../api/production/copies";
import { useRoomOf } from "../../store/room";
import { Button } from "../../ui/controls";
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
    <Dialog.Root open onOpenChange={(open) => set({ copies: open })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content className="fixed top-1/2 left-1/2 z-50 grid h-[min(600px,88vh)] w-[min(880px,94vw)] -translate-x-1/2 -translate-y-1/2 grid-rows-[auto_minmax(0,1fr)] rounded-[5px] border border-rule bg-card shadow-lg outline-none">
          <header className="border-b border-rule px-5 py-3.5">
            <div className="flex items-center gap-3">
              <Dialog.Title className="font-title text-[19px] font-semibold">{TEXT.workingCopies}</Dialog.Title>
              <Button className="ml-auto" onClick={() => setNaming(true)}>
                {TEXT.keepAsItStands}
              </Button>
              <Dialog.Close aria-label={TEXT.close} className="cursor-pointer p-1 text-soft hover:text-ink">
                <X size={17} />
              </Dialog.Close>
            </div>
            <Dialog.Description className="mt-0.5 text-[12.5px] text-soft">{TEXT.copiesHint}</Dialog.Description>
            {naming && (
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
            )}
          </header>
          {shown ? (
            <div className="grid min-h-0 grid-cols-[minmax(0,2fr)_minmax(0,3fr)]">
              <CopyList copies={data ?? []} shown={shown.id} onShow={setChosen} />
              <CopyDetail key={shown.id} copy={shown} onDone={() => set({ copies: false })} />
            </div>
          ) : (
            <p className="p-6 text-soft">{error?.message ?? (data ? TEXT.noCopies : TEXT.readingCopies)}</p>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
