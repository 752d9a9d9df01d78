import type { ReactNode } from "react";

/** The heading of a part of the shelves. */
export function Heading({ children }: { children: ReactNode }) {
  return <h2 className="mt-4 border-b border-dashed border-rule pb-1 text-[11.5px] text-soft">{children}</h2>;
}
