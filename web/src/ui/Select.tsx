import clsx from "clsx";
import { ChevronDown } from "lucide-react";
import { Select as Radix } from "radix-ui";
import { Children, isValidElement, type ReactElement, type ReactNode, useState } from "react";

interface Props {
  /** Its name, for who cannot see the word beside it. */
  label: string;
  value: string | number;
  disabled?: boolean;
  className?: string;
  onChoose(value: string): void;
  /** `<option>`s and `<optgroup>`s; an option's own text is its value where it names none. */
  children: ReactNode;
}

/** One of several from a list. The list exists only while it is open: some pages hold sixty of a hundred joints each. */
export function Select({ label, value, disabled, className, onChoose, children }: Props) {
  const [open, setOpen] = useState(false);
  const groups = groupsOf(children);
  const chosen = groups.flatMap((g) => g.options).find((o) => o.value === String(value));
  return (
    <Radix.Root
      open={open}
      onOpenChange={setOpen}
      value={inward(String(value))}
      disabled={disabled}
      onValueChange={(v) => onChoose(outward(v))}
    >
      <Radix.Trigger
        aria-label={label}
        data-value={String(value)}
        className={clsx(
          "inline-flex cursor-pointer items-center gap-1 rounded-[3px] border border-rule bg-card py-1 pr-1 pl-1.5 text-left text-ink hover:not-disabled:border-heron disabled:cursor-default disabled:opacity-45",
          className,
        )}
      >
        <span className="min-w-0 flex-1 truncate">
          <Radix.Value>{chosen?.text ?? ""}</Radix.Value>
        </span>
        <ChevronDown size={13} aria-hidden className="shrink-0 text-soft" />
      </Radix.Trigger>
      {open && (
        <Radix.Portal>
          <Radix.Content
            position="popper"
            sideOffset={3}
            collisionPadding={8}
            className="z-50 max-h-[min(22rem,var(--radix-select-content-available-height))] max-w-96 min-w-(--radix-select-trigger-width) overflow-hidden rounded-[4px] border border-rule bg-card text-[13px] text-ink shadow-md"
          >
            <Radix.Viewport className="p-1">
              {groups.map((g, at) => (
                <Radix.Group key={g.label ?? at}>
                  {g.label && (
                    <Radix.Label className="px-2 pt-1.5 pb-0.5 text-[11.5px] text-soft">{g.label}</Radix.Label>
                  )}
                  {g.options.map((o) => (
                    <Radix.Item
                      key={o.value}
                      value={inward(o.value)}
                      disabled={o.disabled}
                      data-value={o.value}
                      className="cursor-pointer rounded-[3px] px-2 py-1 outline-none data-disabled:cursor-default data-disabled:text-soft data-highlighted:bg-chalk data-[state=checked]:text-heron"
                    >
                      <Radix.ItemText>{o.text}</Radix.ItemText>
                    </Radix.Item>
                  ))}
                </Radix.Group>
              ))}
            </Radix.Viewport>
          </Radix.Content>
        </Radix.Portal>
      )}
    </Radix.Root>
  );
}

/** A select said by a word before it. */
export function Choice({ word, className, label, ...rest }: Omit<Props, "label"> & { word: string; label?: string }) {
  return (
    <div className={clsx("flex items-baseline gap-2", className)}>
      <span aria-hidden className="min-w-12 text-soft">
        {word}
      </span>
      <Select label={label ?? word} className="min-w-0 flex-1" {...rest} />
    </div>
  );
}

interface Option {
  value: string;
  text: string;
  disabled: boolean;
}

type OptionProps = { value?: string | number; disabled?: boolean; label?: string; children?: ReactNode };

/** What the list holds, in its order: options without a heading, then each heading's. */
function groupsOf(children: ReactNode): { label?: string; options: Option[] }[] {
  const parts = Children.toArray(children).filter((e): e is ReactElement<OptionProps> => isValidElement(e));
  const loose = parts.filter((e) => e.type === "option").map(optionOf);
  const headed = parts
    .filter((e) => e.type === "optgroup")
    .map((e) => ({ label: e.props.label, options: groupsOf(e.props.children).flatMap((g) => g.options) }));
  return [...(loose.length ? [{ options: loose }] : []), ...headed];
}

function optionOf({ props }: ReactElement<OptionProps>): Option {
  const text = Children.toArray(props.children).join("");
  return { value: String(props.value ?? text), text, disabled: props.disabled ?? false };
}

/** The list itself cannot hold an empty value. */
const EMPTY = "\u2205";
const inward = (value: string) => value || EMPTY;
const outward = (value: string) => (value === EMPTY ? "" : value);
