import clsx from "clsx";
import { X } from "lucide-react";
import { Toast } from "radix-ui";
import { useRoomOf } from "../store/room";
import { TEXT } from "./texts";

/** Messages: one about what was done goes after four seconds, a problem stays until it is closed. */
export function Toasts() {
  const { saying, say } = useRoomOf("saying", "say");
  const problem = saying?.kind === "problem";
  return (
    <Toast.Provider label={TEXT.message} swipeDirection="down">
      {saying && (
        <Toast.Root
          key={saying.text}
          type={problem ? "foreground" : "background"}
          duration={problem ? Number.POSITIVE_INFINITY : 4000}
          onOpenChange={(open) => !open && say(null)}
          className={clsx(
            "flex items-start gap-3 rounded-[4px] border bg-card px-4 py-3 shadow-md",
            problem ? "border-amber" : "border-moss",
          )}
        >
          <Toast.Description>{saying.text}</Toast.Description>
          <Toast.Close aria-label={TEXT.close} className="cursor-pointer text-soft hover:text-ink">
            <X size={15} aria-hidden />
          </Toast.Close>
        </Toast.Root>
      )}
      <Toast.Viewport
        label={TEXT.messagesHotkey}
        className="fixed bottom-4 left-1/2 z-50 max-w-[640px] -translate-x-1/2 list-none"
      />
    </Toast.Provider>
  );
}
