import clsx from "clsx";
import { X } from "lucide-react";
import { Dialog } from "radix-ui";
import type { ReactNode } from "react";
import { TEXT } from "./texts";

interface Props {
  title: string;
  hint: string;
  /** What stands beside the title, and below the hint. */
  acts?: ReactNode;
  below?: ReactNode;
  className?: string;
  onClose(): void;
  children: ReactNode;
}

/** A dialog over the room, with its title and what it is for. */
export function DialogFrame({ title, hint, acts, below, className, onClose, children }: Props) {
  return (
    <Dialog.Root open onOpenChange={(open) => open || onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          className={clsx(
            "fixed top-1/2 left-1/2 z-50 grid -translate-x-1/2 -translate-y-1/2 grid-rows-[auto_minmax(0,1fr)] rounded-[5px] border border-rule bg-card shadow-lg outline-none",
            className,
          )}
        >
          <header className="border-b border-rule px-5 py-3.5">
            <div className="flex items-center gap-3">
              <Dialog.Title className="mr-auto font-title text-[19px] font-semibold">{title}</Dialog.Title>
              {acts}
              <Dialog.Close aria-label={TEXT.close} className="cursor-pointer p-1 text-soft hover:text-ink">
                <X size={17} />
              </Dialog.Close>
            </div>
            <Dialog.Description className="mt-0.5 text-[12.5px] text-soft">{hint}</Dialog.Description>
            {below}
          </header>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
