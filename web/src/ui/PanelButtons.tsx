import type { ReactNode } from "react";

/** The buttons that a step's panel is there for: they stay in sight however far its settings are scrolled. */
export function PanelButtons({ children }: { children: ReactNode }) {
  return (
    <div className="sticky top-0 bottom-0 z-10 -mx-3 flex flex-wrap items-center gap-2 bg-[color-mix(in_srgb,var(--color-paper)_40%,var(--color-card))] px-3 py-1.5 empty:hidden">
      {children}
    </div>
  );
}
