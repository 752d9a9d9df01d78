import clsx from "clsx";
import { Check as Tick } from "lucide-react";
import { Checkbox } from "radix-ui";
import type { ReactNode } from "react";

interface Props {
  checked: boolean;
  disabled?: boolean;
  className?: string;
  onChange(on: boolean): void;
  children: ReactNode;
}

/** A thing that is so or not; long words go on in a second line. */
export function Check({ checked, disabled, className, onChange, children }: Props) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the box is its control
    <label className={clsx("flex items-start gap-2", !disabled && "cursor-pointer", className)}>
      <Checkbox.Root
        checked={checked}
        disabled={disabled}
        onCheckedChange={(on) => onChange(on === true)}
        className="mt-[0.2em] flex size-[14px] shrink-0 cursor-pointer items-center justify-center rounded-[2px] border border-soft bg-card text-card hover:not-disabled:border-heron disabled:cursor-default disabled:opacity-45 data-[state=checked]:border-heron data-[state=checked]:bg-heron"
      >
        <Checkbox.Indicator>
          <Tick size={11} strokeWidth={3} aria-hidden />
        </Checkbox.Indicator>
      </Checkbox.Root>
      <span className="min-w-0 flex-1">{children}</span>
    </label>
  );
}
