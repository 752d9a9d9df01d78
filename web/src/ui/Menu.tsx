import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

interface Props {
  /** What the button that opens it is called. */
  label: string;
  title?: string;
  disabled?: boolean;
  className: string;
  align?: "start" | "end";
  /** Stands over the acts. */
  heading?: string;
  /** What can be done, in words, and how. */
  acts: (readonly [string, () => void])[];
  children: ReactNode;
}

/** A button that opens a list of acts. */
export function Menu({ label, title, disabled, className, align = "end", heading, acts, children }: Props) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger aria-label={label} title={title} disabled={disabled} className={className}>
        {children}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align={align}
          sideOffset={6}
          className="z-40 min-w-48 rounded-[4px] border border-rule bg-card p-1.5 text-[13px] text-ink shadow-lg"
        >
          {heading && (
            <DropdownMenu.Label className="max-w-72 truncate px-3 pt-1 pb-2 font-title text-[15px] font-semibold">
              {heading}
            </DropdownMenu.Label>
          )}
          {acts.map(([words, act]) => (
            <DropdownMenu.Item
              key={words}
              className="cursor-pointer rounded-[3px] px-3 py-1.5 outline-none data-[highlighted]:bg-chalk"
              onSelect={act}
            >
              {words}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
