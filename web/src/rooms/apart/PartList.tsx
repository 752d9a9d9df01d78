import { Eye, EyeOff } from "lucide-react";
import { useEffect, useState } from "react";
import type { Part } from "../../api/apart";
import { CATEGORIES } from "../../api/categories";
import { PART_TONES, partTone } from "../../theme/palette";
import { Select } from "../../ui/Select";
import { TEXT } from "./texts";

interface Props {
  parts: Part[];
  hidden: Set<number>;
  onHide(part: number): void;
  onChange(part: number, change: Partial<Pick<Part, "name" | "is_body" | "colour">> & { category?: never }): void;
  onMerge(part: number, into: number): void;
}

/** The parts: what each is called and is, its colour, and which other it belongs to. */
export function PartList({ parts, hidden, onHide, onChange, onMerge }: Props) {
  return (
    <section aria-label={TEXT.parts}>
      <h2 className="font-title text-[16px] font-semibold">{TEXT.parts}</h2>
      {!parts.some((p) => p.is_body) && <p className="mt-1 text-[12px] text-amber">{TEXT.noPartIsThe}</p>}
      <ul>
        {parts.map((p, k) => (
          <li
            // biome-ignore lint/suspicious/noArrayIndexKey: a part is known by its number, and names are edited
            key={k}
            className="border-b border-dashed border-rule py-2"
          >
            <div className="flex items-center gap-2">
              <button
                type="button"
                aria-label={TEXT.anotherColourFor(p.name)}
                title={TEXT.anotherColour}
                className="h-4 w-4 shrink-0 cursor-pointer rounded-[3px] border border-ink/30"
                style={{ background: partTone(p.colour) }}
                onClick={() => onChange(k, { colour: (p.colour + 1) % PART_TONES })}
              />
              <Name part={p} onKeep={(name) => onChange(k, { name })} />
              <button
                type="button"
                aria-label={hidden.has(k) ? TEXT.show(p.name) : TEXT.hide(p.name)}
                className="cursor-pointer text-soft hover:text-ink"
                onClick={() => onHide(k)}
              >
                {hidden.has(k) ? <EyeOff size={14} /> : <Eye size={14} />}
              </button>
            </div>
            <div className="mt-1 flex items-center gap-2 text-[12px] text-soft">
              <Select
                label={TEXT.whatIs(p.name)}
                value={p.is_body ? "body" : p.category}
                onChoose={(v) =>
                  onChange(
                    k,
                    (v === "body" ? { is_body: true } : { is_body: false, category: v }) as Parameters<
                      Props["onChange"]
                    >[1],
                  )
                }
              >
                <option value="body">{TEXT.theBody}</option>
                {CATEGORIES.map((c) => (
                  <option key={c}>{c}</option>
                ))}
              </Select>
              <Select
                label={TEXT.putInto(p.name)}
                className="max-w-24"
                value=""
                onChoose={(v) => onMerge(k, Number(v))}
              >
                <option value="" disabled>
                  {TEXT.merge}
                </option>
                {parts.map(
                  (other, into) =>
                    into !== k && (
                      <option key={other.name} value={into}>
                        {TEXT.into(other.name)}
                      </option>
                    ),
                )}
              </Select>
              <span className="ml-auto">{TEXT.faces(p.faces.toLocaleString("en"))}</span>
            </div>
            <p className="mt-1 text-[11.5px] text-soft">{TEXT.sure((p.sure * 100).toFixed(0), p.why)}</p>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Name({ part, onKeep }: { part: Part; onKeep(name: string): void }) {
  const [text, setText] = useState(part.name);
  useEffect(() => setText(part.name), [part.name]);
  return (
    <input
      aria-label={TEXT.nameOf(part.name)}
      className="min-w-0 flex-1 rounded-[3px] border border-transparent bg-transparent px-1 font-semibold hover:border-rule focus:border-rule"
      value={text}
      maxLength={50}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => (text.trim() && text !== part.name ? onKeep(text.trim()) : setText(part.name))}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") setText(part.name);
      }}
    />
  );
}
