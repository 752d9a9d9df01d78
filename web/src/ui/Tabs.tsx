import clsx from "clsx";
import type { ReactNode } from "react";

/** A row of tabs; `mark` adds a word to one, `off` puts one out of reach. */
export function Tabs<T extends string>(props: {
  names: readonly T[];
  open: T;
  mark?: Partial<Record<T, ReactNode>>;
  off?(name: T): boolean;
  onOpen(name: T): void;
}) {
  return (
    <div role="tablist" className="mb-2 flex overflow-hidden rounded-[3px] border border-rule bg-card">
      {props.names.map((name) => (
        <button
          key={name}
          type="button"
          role="tab"
          aria-selected={props.open === name}
          disabled={props.off?.(name)}
          className={clsx(
            "flex-1 cursor-pointer border-r border-rule px-1 py-1.5 leading-none last:border-0 disabled:cursor-default disabled:opacity-45",
            props.open === name ? "bg-ink text-paper" : "text-soft hover:text-ink",
          )}
          onClick={() => props.onOpen(name)}
        >
          {name}
          {props.mark?.[name]}
        </button>
      ))}
    </div>
  );
}
