import { Archive, Copy, PencilLine, Trash2 } from "lucide-react";
import { type ReactNode, useState } from "react";
import { enter, type ProductionLine, useChangeProductions } from "../../api/production/productions";
import { Hint } from "../../ui/controls";
import { NameForm } from "../../ui/NameForm";
import { TEXT } from "./texts";
import { whenOpened } from "./whenOpened";

/** A production: who is in it, what it holds, when it was opened last; pressed, it opens. */
export function ProductionCard({ production }: { production: ProductionLine }) {
  const { id, name } = production;
  const { rename, duplicate, bin } = useChangeProductions();
  const [naming, setNaming] = useState(false);
  return (
    <li className="group rounded-[4px] border border-rule bg-card hover:border-heron">
      <button
        type="button"
        aria-label={TEXT.open(name)}
        className="block w-full cursor-pointer"
        onClick={() => enter(id)}
      >
        <Faces of={production} />
      </button>
      <div className="px-4 pt-3 pb-2">
        {naming ? (
          <NameForm
            name={name}
            act={TEXT.keep}
            onName={(to) => rename.mutate({ id, name: to }, { onSuccess: () => setNaming(false) })}
            onCancel={() => setNaming(false)}
          />
        ) : (
          <h2 className="truncate font-title text-[18px] font-semibold" title={name}>
            {name}
          </h2>
        )}
        <p className="mt-1 text-[13px]">{TEXT.what(production.wearers, production.pieces, production.poses)}</p>
        <p className="text-[12.5px] text-soft">
          {TEXT.opened(whenOpened(new Date(production.opened_at), new Date()))} · {TEXT.megabytes(production.bytes)}
        </p>
        <p className="h-[1.5em] truncate text-[12.5px] text-soft">
          {production.artists.length > 0 && TEXT.worked(production.artists.join(", "))}
        </p>
        <div className="mt-2 flex items-center gap-1 border-t border-dashed border-rule pt-1.5">
          <Act label={TEXT.rename} onAct={() => setNaming(true)}>
            <PencilLine size={15} />
          </Act>
          <Act label={TEXT.duplicate} busy={duplicate.isPending} onAct={() => duplicate.mutate(id)}>
            <Copy size={15} />
          </Act>
          <Hint text={TEXT.archive}>
            <a
              aria-label={TEXT.archive}
              href={`/api/productions/${id}/archive`}
              download
              className="p-1.5 text-soft hover:text-ink"
            >
              <Archive size={15} />
            </a>
          </Hint>
          <span className="ml-auto">
            <Act label={TEXT.bin} busy={bin.isPending} onAct={() => bin.mutate(id)}>
              <Trash2 size={15} />
            </Act>
          </span>
        </div>
      </div>
    </li>
  );
}

/** Up to four wearers side by side, in what hangs on the rail. */
function Faces({ of }: { of: ProductionLine }) {
  return (
    <span className="flex h-[176px] items-end pt-2 justify-center gap-1 overflow-hidden rounded-t-[4px] border-b border-rule bg-chalk/60">
      {of.faces.map((face) => (
        <img
          key={face.wearer}
          src={`/api/pictures/dressed/${face.wearer}.png`}
          alt={face.name}
          loading="lazy"
          className="h-full min-w-0 flex-1 object-contain object-bottom"
        />
      ))}
    </span>
  );
}

interface ActProps {
  label: string;
  busy?: boolean;
  onAct(): void;
  children: ReactNode;
}

function Act({ label, busy, onAct, children }: ActProps) {
  return (
    <Hint text={label}>
      <button
        type="button"
        aria-label={label}
        disabled={busy}
        className="cursor-pointer p-1.5 text-soft hover:text-ink disabled:cursor-default disabled:opacity-40"
        onClick={onAct}
      >
        {children}
      </button>
    </Hint>
  );
}
