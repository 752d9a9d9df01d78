import { useState } from "react";
import { Button } from "./controls";
import { TEXT } from "./texts";

interface Props {
  name?: string;
  act: string;
  onName(name: string): void;
  onCancel(): void;
}

/** Asks for a name; Enter keeps it, Escape leaves all as it was. */
export function NameForm({ name = "", act, onName, onCancel }: Props) {
  const [text, setText] = useState(name);
  const told = text.trim();
  return (
    <form
      className="flex flex-wrap items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (told) onName(told);
      }}
      onKeyDown={(e) => e.key === "Escape" && onCancel()}
    >
      <input
        // biome-ignore lint/a11y/noAutofocus: the form opens because a name was asked for
        autoFocus
        aria-label={TEXT.name}
        placeholder={TEXT.name}
        value={text}
        maxLength={80}
        onChange={(e) => setText(e.target.value)}
        className="min-w-0 flex-1 rounded-[3px] border border-rule bg-card px-2.5 py-1.5"
      />
      <Button type="submit" look="primary" disabled={!told}>
        {act}
      </Button>
      <Button look="quiet" onClick={onCancel}>
        {TEXT.cancel}
      </Button>
    </form>
  );
}
