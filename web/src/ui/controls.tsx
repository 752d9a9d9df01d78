import clsx from "clsx";
import { Slider as RadixSlider, Tooltip as RadixTooltip } from "radix-ui";
import { type ButtonHTMLAttributes, type ReactNode, useEffect, useState } from "react";
import { TEXT } from "./texts";

interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  look?: "primary" | "plain" | "quiet";
}

export function Button({ look = "plain", className, ...rest }: ButtonProps) {
  return (
    <button
      type="button"
      className={clsx(
        "inline-flex cursor-pointer items-center justify-center gap-1.5 rounded-[3px] border px-3 py-1.5 text-[13px] leading-none whitespace-nowrap transition-colors disabled:cursor-default disabled:opacity-45",
        look === "primary" && "border-heron bg-heron text-card hover:not-disabled:brightness-110",
        look === "plain" && "border-rule bg-card hover:not-disabled:border-heron",
        look === "quiet" && "border-transparent bg-transparent text-soft hover:not-disabled:text-ink",
        className,
      )}
      {...rest}
    />
  );
}

export function Hint({
  text,
  children,
  side = "bottom",
}: {
  text: string;
  children: ReactNode;
  side?: "top" | "bottom" | "left" | "right";
}) {
  return (
    <RadixTooltip.Root>
      <RadixTooltip.Trigger asChild>{children}</RadixTooltip.Trigger>
      <RadixTooltip.Portal>
        <RadixTooltip.Content
          side={side}
          sideOffset={5}
          className="z-50 max-w-64 rounded-[3px] bg-ink px-2 py-1 text-[12px] text-paper"
        >
          {text}
        </RadixTooltip.Content>
      </RadixTooltip.Portal>
    </RadixTooltip.Root>
  );
}

interface SliderProps {
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  shown?: string;
  ends?: [string, string];
  onChange(value: number): void;
  onCommit?(value: number): void;
}

export function Slider({ label, value, min, max, step, shown, ends, onChange, onCommit }: SliderProps) {
  return (
    <div className="py-[3px]">
      <div className="flex justify-between text-[12.5px] leading-4">
        <span>{label}</span>
        <span className="text-soft">{shown ?? value.toFixed(2)}</span>
      </div>
      <RadixSlider.Root
        className="relative flex h-4 w-full touch-none items-center select-none"
        value={[value]}
        min={min}
        max={max}
        step={step}
        onValueChange={([v]) => v !== undefined && onChange(v)}
        // by the keyboard a value is committed before it is changed: who drops a draft when it is kept would get it back
        onValueCommit={([v]) => v !== undefined && onCommit && queueMicrotask(() => onCommit(v))}
      >
        <RadixSlider.Track className="relative h-px grow bg-soft/60">
          {min < 0 && <span className="absolute -top-1 left-1/2 h-2 w-px bg-soft/60" />}
        </RadixSlider.Track>
        <RadixSlider.Thumb aria-label={label} className="block h-3.5 w-2 cursor-ew-resize rounded-[2px] bg-heron" />
      </RadixSlider.Root>
      {ends && (
        <div className="-mt-0.5 flex justify-between text-[11px] text-soft">
          <span>{ends[0]}</span>
          <span>{ends[1]}</span>
        </div>
      )}
    </div>
  );
}

interface NumberProps {
  label: string;
  unit: string;
  value: number;
  digits?: number;
  step?: number;
  onCommit(value: number): void;
}

/** A number with its unit; Enter or leaving the field keeps it, Escape puts the old one back. */
export function NumberField({ label, unit, value, digits = 1, step = 1, onCommit }: NumberProps) {
  const [text, setText] = useState(value.toFixed(digits));
  useEffect(() => setText(value.toFixed(digits)), [value, digits]);
  const bad = !Number.isFinite(Number(text.replace(",", ".")));
  const keep = () => {
    const number = Number(text.replace(",", "."));
    if (Number.isFinite(number) && number.toFixed(digits) !== value.toFixed(digits)) onCommit(number);
    else if (!bad) setText(value.toFixed(digits));
  };
  return (
    <label className="flex min-w-0 flex-1 flex-col gap-0.5 text-[11.5px] text-soft">
      {label}
      <span
        className={clsx("flex items-center rounded-[3px] border bg-card px-1.5", bad ? "border-amber" : "border-rule")}
      >
        <input
          className="w-full min-w-0 bg-transparent py-1 text-[13px] text-ink outline-none"
          inputMode="decimal"
          aria-label={`${label}, ${unit}`}
          aria-invalid={bad}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onBlur={keep}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter") keep();
            if (e.key === "Escape") setText(value.toFixed(digits));
            if (e.key === "ArrowUp" || e.key === "ArrowDown") {
              e.preventDefault();
              onCommit(value + (e.key === "ArrowUp" ? step : -step));
            }
          }}
        />
        <span className="text-[11.5px] whitespace-nowrap">{unit}</span>
      </span>
    </label>
  );
}

/** The small mark on a tile: the worst clearance of its row or column. */
export function Mark({ clearance, holds, short = false }: { clearance: number; holds: boolean; short?: boolean }) {
  const look = !holds
    ? "bg-coral-pale text-coral"
    : clearance < 1
      ? "bg-amber-pale text-amber"
      : "bg-moss-pale text-moss";
  const text = !holds ? Math.abs(clearance).toFixed(1) : clearance < 1 ? clearance.toFixed(1).replace("-", "−") : "ok";
  return (
    <span
      className={clsx("rounded-[3px] px-1 text-[10.5px] leading-4 font-semibold", look)}
      title={
        holds
          ? TEXT.holdsLeastClearanceMm(clearance.toFixed(1))
          : TEXT.showsThroughMmDeep(Math.abs(clearance).toFixed(1))
      }
    >
      {text}
      {!short && text !== "ok" ? " mm" : ""}
    </span>
  );
}

/** For the `ref` of a field that was asked for by the press before: it has the keyboard at once. */
export function takesFocus(field: HTMLInputElement | null) {
  field?.focus();
}
