import { X } from "lucide-react";
import { useEffect } from "react";
import { useRoomOf } from "../store/room";

/** What the house has to say: done things go by themselves, problems stay until read. */
export function Sayings() {
  const { saying, say } = useRoomOf("saying", "say");
  useEffect(() => {
    if (saying?.kind !== "done") return;
    const timer = setTimeout(() => say(null), 4000);
    return () => clearTimeout(timer);
  }, [saying, say]);
  if (!saying) return null;
  return (
    <div
      role={saying.kind === "problem" ? "alert" : "status"}
      className={`fixed bottom-4 left-1/2 z-50 flex max-w-[640px] -translate-x-1/2 items-start gap-3 rounded-[4px] border bg-card px-4 py-3 shadow-md ${saying.kind === "problem" ? "border-amber" : "border-moss"}`}
    >
      <span>{saying.text}</span>
      <button
        type="button"
        aria-label="Close"
        className="cursor-pointer text-soft hover:text-ink"
        onClick={() => say(null)}
      >
        <X size={15} />
      </button>
    </div>
  );
}
