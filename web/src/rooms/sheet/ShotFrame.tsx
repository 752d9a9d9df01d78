import { useEffect, useRef, useState } from "react";
import type { Shot } from "../../api/shots";
import { shareOf } from "../../stage/shotView";

/** The picture of the shot that is looked through, its surroundings dimmed. */
export function ShotFrame({ shot }: { shot: Shot["shot"] }) {
  const box = useRef<HTMLDivElement>(null);
  const [aspect, setAspect] = useState(0);
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setAspect(entry.contentRect.width / Math.max(entry.contentRect.height, 1));
    });
    if (box.current) watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const { wide, high } = shareOf(shot.frame ?? 16 / 9, aspect || 1);
  return (
    <div ref={box} className="pointer-events-none absolute inset-0 overflow-hidden" aria-hidden>
      {aspect > 0 && (
        <div
          className="absolute top-1/2 left-1/2 -translate-x-1/2 -translate-y-1/2 border border-ink/70"
          style={{
            width: `${100 * wide}%`,
            height: `${100 * high}%`,
            boxShadow: "0 0 0 4000px color-mix(in srgb, var(--color-ink) 16%, transparent)",
          }}
        />
      )}
    </div>
  );
}
