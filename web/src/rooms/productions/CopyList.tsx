import clsx from "clsx";
import { inProduction } from "../../api/client";
import type { CopyLine } from "../../api/production/copies";
import { TEXT } from "./texts";
import { whenOpened } from "./whenOpened";

interface Props {
  copies: CopyLine[];
  shown: number;
  onShow(copy: number): void;
}

/** Working copies with their pictures, newest first; those that were made by themselves stand back. */
export function CopyList({ copies, shown, onShow }: Props) {
  return (
    <ul className="min-h-0 overflow-y-auto border-r border-rule py-1">
      {copies.map((copy) => (
        <li key={copy.id}>
          <button
            type="button"
            aria-pressed={copy.id === shown}
            onClick={() => onShow(copy.id)}
            className={clsx(
              "flex w-full cursor-pointer items-center gap-3 border-l-2 px-3 py-1.5 text-left",
              copy.id === shown ? "border-heron bg-chalk/60" : "border-transparent hover:bg-chalk/30",
            )}
          >
            <img
              src={inProduction(`/api/copies/${copy.id}/picture.png`)}
              alt=""
              loading="lazy"
              className="h-14 w-12 shrink-0 object-contain"
            />
            <span className="min-w-0">
              <span className={clsx("line-clamp-2 leading-tight", copy.automatic ? "text-[13px]" : "font-semibold")}>
                {copy.name}
              </span>
              <span className="block truncate text-[12px] text-soft">
                {whenOpened(new Date(copy.made_at), new Date())} · {copy.author}
                {copy.automatic && ` · ${TEXT.byItself}`}
              </span>
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
