import { X } from "lucide-react";
import { useEffect } from "react";
import { item } from "../../recipe/at";
import { goToStop, leaveTour, STOPS, useTour } from "../../store/tour";
import { Button, Hint } from "../../ui/controls";
import { open, VIEWS } from "./stops";
import { TEXT } from "./texts";

/** How often the page is looked through for what a stop is about, until it is there (ms). */
const LOOK = 200;

/** The stop the tour stands at: a card over the real screen, which is opened there and marked. */
export default function TourCard() {
  const at = useTour((tour) => tour.at);
  const stop = item(STOPS, at);
  const [title, text] = TEXT.stops[stop];
  useEffect(() => {
    open(stop);
    return marked(VIEWS[stop].about);
  }, [stop]);
  return (
    <section
      aria-label={TEXT.tour}
      className="fixed bottom-[160px] left-[110px] z-30 w-[min(350px,80vw)] rounded-[5px] border border-heron bg-card px-4 pt-3 pb-3.5 shadow-md"
    >
      <header className="flex items-baseline gap-2">
        <h2 className="font-title text-[17px] font-semibold">{title}</h2>
        <span className="ml-auto text-[12px] text-soft tabular-nums">{TEXT.of(at + 1, STOPS.length)}</span>
        <Hint text={TEXT.leave} side="top">
          <button
            type="button"
            aria-label={TEXT.leave}
            className="cursor-pointer self-center text-soft hover:text-ink"
            onClick={leaveTour}
          >
            <X size={15} />
          </button>
        </Hint>
      </header>
      <p className="mt-1" aria-live="polite">
        {text}
      </p>
      <div className="mt-2.5 flex items-center gap-1.5">
        <ol className="flex gap-1" aria-hidden>
          {STOPS.map((each, i) => (
            <li
              key={each}
              className={
                i <= at ? "h-[7px] w-[7px] rounded-full bg-heron" : "h-[7px] w-[7px] rounded-full border border-soft"
              }
            />
          ))}
        </ol>
        {at > 0 && (
          <Button look="quiet" className="ml-auto" onClick={() => goToStop(at - 1)}>
            {TEXT.back}
          </Button>
        )}
        <Button look="primary" className={at > 0 ? "" : "ml-auto"} onClick={() => goToStop(at + 1)}>
          {at + 1 < STOPS.length ? TEXT.next : TEXT.finish}
        </Button>
      </div>
    </section>
  );
}

/** Mark what on the page is called so, as soon as it is there; return what takes the mark away. */
function marked(about: string): () => void {
  let found: Element | null = null;
  const look = () => {
    const now = document.querySelector(about);
    if (now === found) return;
    found?.removeAttribute("data-toured");
    now?.setAttribute("data-toured", "");
    now?.scrollIntoView({ block: "nearest" });
    found = now;
  };
  look();
  const looking = window.setInterval(look, LOOK);
  return () => {
    window.clearInterval(looking);
    found?.removeAttribute("data-toured");
  };
}
