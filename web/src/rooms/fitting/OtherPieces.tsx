import type { ReactNode } from "react";
import type { Piece, Production } from "../../api/client";
import { useBringOver } from "../../api/hooks";
import { useChangeOutfits } from "../../api/production/outfits";
import type { Fitting } from "../../bench/useFitting";
import { outfitOf } from "../../recipe/outfits";
import { Button } from "../../ui/controls";
import { TEXT } from "./texts";

/** Pieces that do not hang here: made on other bodies, to be brought over; in other outfits, to be copied. */
export function OtherPieces({ production, fitting }: { production: Production; fitting: Fitting }) {
  const over = useBringOver();
  const { copyPiece } = useChangeOutfits();
  const { wearer } = fitting;
  if (!wearer) return null;
  const done = production.pieces.filter((p) => p.status === "done");
  const elsewhere = done.filter((p) => (p.recipe.body ?? "") !== (wearer.body ?? ""));
  const inOthers = done.filter((p) => (p.recipe.body ?? "") === (wearer.body ?? "") && p.outfit !== wearer.outfit);
  const bodyOf = (address: string | undefined) =>
    production.bodies.find((b) => b.body === address)?.name ?? TEXT.theHousesFigure;
  const count = (pieces: Piece[]) => [pieces.length, pieces.length === 1 ? "piece" : "pieces"] as const;
  return (
    <>
      {inOthers.length > 0 && (
        <Pieces title={TEXT.inOtherOutfits(...count(inOthers))}>
          {inOthers.map((p) => (
            <Line
              key={p.id}
              name={p.name}
              where={TEXT.inOutfit(outfitOf(production.outfits, { outfit: p.outfit, body: null }))}
              act={TEXT.copyHere}
              busy={copyPiece.isPending}
              onAct={() => copyPiece.mutate({ piece: p.id, outfit: wearer.outfit })}
            />
          ))}
        </Pieces>
      )}
      {elsewhere.length > 0 && (
        <Pieces title={TEXT.madeOnOtherBodies(...count(elsewhere))}>
          {elsewhere.map((p) => (
            <Line
              key={p.id}
              name={p.name}
              where={TEXT.on(bodyOf(p.recipe.body))}
              act={TEXT.bringOver}
              busy={over.isPending}
              onAct={() => over.mutate({ piece: p.id, wearer: wearer.id })}
            />
          ))}
        </Pieces>
      )}
    </>
  );
}

function Pieces({ title, children }: { title: string; children: ReactNode }) {
  return (
    <details className="mt-2.5 text-[12.5px]">
      <summary className="cursor-pointer text-soft hover:text-ink">{title}</summary>
      <ul className="mt-1">{children}</ul>
    </details>
  );
}

interface LineProps {
  name: string;
  where: string;
  act: string;
  busy: boolean;
  onAct(): void;
}

function Line({ name, where, act, busy, onAct }: LineProps) {
  return (
    <li className="flex items-center gap-2 py-0.5">
      <span className="min-w-0 flex-1 truncate">
        {name} <span className="text-soft">{where}</span>
      </span>
      <Button look="quiet" className="px-0 py-0 text-heron" disabled={busy} onClick={onAct}>
        {act}
      </Button>
    </li>
  );
}

/** Where a copy comes from; what its origin has become since is taken over at a press. */
export function OriginNote({ piece }: { piece: Piece }) {
  const { takeOver } = useChangeOutfits();
  if (!piece.origin) return null;
  return (
    <p className="mt-1.5 text-[12.5px] text-soft">
      {TEXT.aCopyOf(piece.origin, piece.origin_outfit ?? "")}
      {piece.origin_changed && (
        <>
          {" "}
          {TEXT.originChanged}{" "}
          <Button
            look="quiet"
            className="px-0 py-0 text-heron"
            disabled={takeOver.isPending}
            onClick={() => takeOver.mutate(piece.id)}
          >
            {TEXT.takeOver}
          </Button>
        </>
      )}
    </p>
  );
}
