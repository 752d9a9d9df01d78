import { Signpost } from "lucide-react";
import { goOnTour, STOPS, useTour } from "../../store/tour";
import { Hint } from "../../ui/controls";
import { TEXT } from "./texts";

/** Offers the tour in the top bar until it has been gone through. */
export function TourButton() {
  const { on, at, done } = useTour();
  if (on || done) return null;
  const text = at > 0 ? TEXT.resume(at + 1, STOPS.length) : TEXT.take;
  return (
    <Hint text={text}>
      <button
        type="button"
        aria-label={text}
        className="flex cursor-pointer items-center p-1 text-soft hover:text-ink"
        onClick={goOnTour}
      >
        <Signpost size={16} />
      </button>
    </Hint>
  );
}
