import { useState } from "react";
import { type CopyLine, type CopyLook, useChangeCopies, useCopyLook } from "../../api/production/copies";
import { useProduction } from "../../api/production/production";
import { useRoom, useRoomOf } from "../../store/room";
import { Button } from "../../ui/controls";
import { TEXT } from "./texts";

/** What stood in a working copy, what has become of it since, and the way back. */
export function CopyDetail({ copy, onDone }: { copy: CopyLine; onDone(): void }) {
  const { data: look, error } = useCopyLook(copy.id);
  const { drop, goBack } = useChangeCopies();
  const [sure, setSure] = useState(false);
  const say = useRoom((s) => s.say);
  return (
    <section aria-label={copy.name} className="grid min-h-0 grid-rows-[minmax(0,1fr)_auto]">
      <div className="min-h-0 overflow-y-auto px-5 py-3.5">
        <h3 className="font-title text-[17px] leading-tight font-semibold">{copy.name}</h3>
        {error && <p className="mt-3 text-soft">{error.message}</p>}
        {look && <Stood look={look} copy={copy.id} />}
      </div>
      <footer className="flex items-center gap-2 border-t border-rule px-5 py-3">
        <Button
          look="primary"
          disabled={goBack.isPending}
          onClick={() =>
            goBack.mutate(copy.id, {
              onSuccess: () => {
                say({ kind: "done", text: TEXT.wentBack(copy.name) });
                onDone();
              },
            })
          }
        >
          {TEXT.goBack}
        </Button>
        <span className="text-[12px] text-soft">{TEXT.goBackHint}</span>
        <Button
          look="quiet"
          className="ml-auto"
          disabled={drop.isPending}
          onClick={() => (sure ? drop.mutate(copy.id) : setSure(true))}
        >
          {sure ? TEXT.deleteIt : TEXT.delete}
        </Button>
      </footer>
    </section>
  );
}

function Stood({ look, copy }: { look: CopyLook; copy: number }) {
  const { takeOutfit } = useChangeCopies();
  const say = useRoom((s) => s.say);
  const outfits = new Map(look.pieces.map((piece) => [piece.outfit, piece.outfit_name]));
  return (
    <>
      {look.pieces.length === 0 && <p className="mt-3">{TEXT.noPieces}</p>}
      {[...outfits].map(([outfit, name]) => (
        <section key={outfit} aria-label={name} className="mt-3">
          <h4 className="flex items-center text-[12.5px] text-soft">
            <span className="min-w-0 truncate">{TEXT.outfitThen(name)}</span>
            <Button
              look="quiet"
              className="ml-auto"
              disabled={takeOutfit.isPending}
              onClick={() =>
                takeOutfit.mutate(
                  { copy, outfit },
                  { onSuccess: () => say({ kind: "done", text: TEXT.outfitTaken(name) }) },
                )
              }
            >
              {TEXT.takeOutfit}
            </Button>
          </h4>
          <ul>
            {look.pieces
              .filter((piece) => piece.outfit === outfit)
              .map((piece) => (
                <PieceThen key={piece.id} piece={piece} copy={copy} />
              ))}
          </ul>
        </section>
      ))}
      {look.come_since.length > 0 && (
        <p className="mt-1.5 text-[12.5px] text-soft">{TEXT.comeSince(look.come_since.join(", "))}</p>
      )}
      <h4 className="mt-4 text-[12.5px] text-soft">{TEXT.cast}</h4>
      <p>{look.wearers.map((w) => (w.since === "same" ? w.name : `${w.name} (${TEXT.since[w.since]})`)).join(", ")}</p>
    </>
  );
}

/** A piece as it hung then; one that is gone or has changed is put on the rail of the wearer on the stage. */
function PieceThen({ piece, copy }: { piece: CopyLook["pieces"][number]; copy: number }) {
  const { takePiece } = useChangeCopies();
  const { wearer, say } = useRoomOf("wearer", "say");
  const cast = useProduction().data?.cast ?? [];
  const outfit = (cast.find((w) => w.id === wearer) ?? cast[0])?.outfit ?? null;
  return (
    <li className="flex items-center gap-3 border-b border-dashed border-rule py-1">
      {piece.thumb ? (
        <img src={`/api/pictures/${piece.thumb}.png`} alt="" width={32} height={32} />
      ) : (
        <span className="size-8" />
      )}
      <span className="min-w-0">
        <span className="block truncate font-semibold">{piece.name}</span>
        <span className="block truncate text-[12px] text-soft">
          {piece.label}
          {piece.since !== "same" && ` · ${TEXT.since[piece.since]}`}
        </span>
      </span>
      {piece.since !== "same" && (
        <Button
          look="quiet"
          className="ml-auto"
          disabled={takePiece.isPending}
          onClick={() =>
            takePiece.mutate(
              { copy, piece: piece.id, outfit },
              { onSuccess: (made) => made && say({ kind: "done", text: TEXT.hangsOnTheRail(made.name) }) },
            )
          }
        >
          {TEXT.takePiece}
        </Button>
      )}
    </li>
  );
}
