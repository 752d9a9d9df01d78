import type { Production } from "../../api/client";
import { useBringOver } from "../../api/hooks";
import type { Fitting } from "../../bench/useFitting";
import { Button } from "../../ui/controls";
import { TEXT } from "./texts";

/** Pieces made on other bodies: they do not hang here, and can be brought over. */
export function OtherBodies({ production, fitting }: { production: Production; fitting: Fitting }) {
  const over = useBringOver();
  const { wearer } = fitting;
  const others = production.pieces.filter((p) => (p.recipe.body ?? "") !== (wearer?.body ?? "") && p.status === "done");
  if (!others.length || !wearer) return null;
  const bodyOf = (address: string | undefined) =>
    production.bodies.find((b) => b.body === address)?.name ?? TEXT.theHousesFigure;
  return (
    <details className="mt-2.5 text-[12.5px]">
      <summary className="cursor-pointer text-soft hover:text-ink">
        {TEXT.madeOnOtherBodies(others.length, others.length === 1 ? "piece" : "pieces")}
      </summary>
      <ul className="mt-1">
        {others.map((p) => (
          <li key={p.id} className="flex items-center gap-2 py-0.5">
            <span className="min-w-0 flex-1 truncate">
              {p.name} <span className="text-soft">{TEXT.on(bodyOf(p.recipe.body))}</span>
            </span>
            <Button
              look="quiet"
              className="px-0 py-0 text-heron"
              disabled={over.isPending}
              onClick={() => over.mutate({ piece: p.id, wearer: wearer.id })}
            >
              {TEXT.bringOver}
            </Button>
          </li>
        ))}
      </ul>
    </details>
  );
}
