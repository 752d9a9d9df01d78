import clsx from "clsx";
import { ChevronDown, ChevronUp, Layers, Plus, Redo2, Sprout, Trash2, Undo2, Users } from "lucide-react";
import { Fragment, useRef, useState } from "react";
import type { Figures, Piece, Production } from "../../api/client";
import { useHistory, useMoveOnRail, useTakeOff } from "../../api/hooks";
import { ACCEPT } from "../../api/wire/uploads";
import { useFitOutfit } from "../../api/work";
import type { Fitting } from "../../bench/useFitting";
import { clearanceNamed, depthOf, pairsOver } from "../../recipe/pairs";
import { stepOf } from "../../recipe/recipe";
import { useRoom, useRoomOf } from "../../store/room";
import { Check } from "../../ui/Check";
import { Button, Hint } from "../../ui/controls";
import { GrowPanel } from "./GrowPanel";
import { OriginNote, OtherPieces } from "./OtherPieces";
import { OutfitBar } from "./OutfitBar";
import { TEXT } from "./texts";
import { usePutOn } from "./usePutOn";

/** The pieces from the outermost to the skin; between the cards, the clearance in this cell. */
export function Rail({ production, fitting }: { production: Production; fitting: Fitting }) {
  const { set } = useRoomOf("set");
  const putOn = usePutOn();
  const dressAtOnce = useRoom((room) => room.dressAtOnce);
  const { undo, redo } = useHistory();
  const takeOff = useTakeOff();
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [growing, setGrowing] = useState(false);
  const outfit = useFitOutfit();
  const figures = fitting.measured?.figures;
  const chosen = fitting.piece;
  const bringIn = (list: FileList | null) => {
    putOn.bringIn(list);
    if (input.current) input.current.value = "";
  };
  return (
    <section
      aria-label={TEXT.rail}
      className={clsx("border-b border-rule px-4 pt-3 pb-3", over && "bg-chalk")}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        setOver(false);
        putOn.drop(event);
      }}
    >
      <header className="mb-2 flex items-center gap-1">
        <h2 className="font-title text-[16px] font-semibold">{TEXT.rail}</h2>
        <span className="ml-2 text-[11.5px] text-soft">{TEXT.outermostFirst}</span>
        <span className="ml-auto flex">
          <Hint text={chosen?.undo_label ? TEXT.undoCtrlZ(chosen.undo_label) : TEXT.nothingToUndo}>
            <Button
              look="quiet"
              className="px-1.5"
              aria-label={TEXT.undo}
              disabled={!chosen?.undo_label}
              onClick={() => chosen && undo.mutate(chosen.id)}
            >
              <Undo2 size={15} />
            </Button>
          </Hint>
          <Hint text={chosen?.redo_label ? TEXT.redoCtrlShiftZ(chosen.redo_label) : TEXT.nothingToRedo}>
            <Button
              look="quiet"
              className="px-1.5"
              aria-label={TEXT.redo}
              disabled={!chosen?.redo_label}
              onClick={() => chosen && redo.mutate(chosen.id)}
            >
              <Redo2 size={15} />
            </Button>
          </Hint>
        </span>
      </header>
      {fitting.wearer && <OutfitBar production={production} wearer={fitting.wearer} />}
      {fitting.rail.map((piece) => (
        <Fragment key={piece.id}>
          <PieceCard piece={piece} chosen={piece.id === chosen?.id} onTakeOff={() => takeOff.mutate(piece.id)} />
          <Between
            figures={fitting.names.has(piece.id) ? figures : undefined}
            name={fitting.names.get(piece.id) ?? ""}
          />
        </Fragment>
      ))}
      <div className="rounded-[3px] border border-dashed border-rule bg-chalk/60 px-3 py-2 text-soft">{TEXT.skin}</div>
      <input
        ref={input}
        type="file"
        multiple
        accept={ACCEPT}
        className="hidden"
        aria-label={TEXT.pieceFiles}
        onChange={(e) => bringIn(e.target.files)}
      />
      {chosen && <OriginNote piece={chosen} />}
      <div className="mt-2.5 flex items-center gap-2">
        <Button onClick={() => input.current?.click()} disabled={putOn.pending}>
          <Plus size={14} /> {putOn.pending ? TEXT.bringingIn : TEXT.bringInAPiece}
        </Button>
        <Hint text={TEXT.anOilskinCoatIn}>
          <Button look="quiet" onClick={putOn.practice} disabled={putOn.practicePending}>
            {TEXT.practiceCoat}
          </Button>
        </Hint>
      </div>
      <Hint text={TEXT.placedFittedBound}>
        <span className="mt-1.5 inline-flex">
          <Check checked={dressAtOnce} onChange={(on) => set({ dressAtOnce: on })}>
            {TEXT.dressItAtOnce}
          </Check>
        </span>
      </Hint>
      {growing && fitting.wearer ? (
        <GrowPanel wearer={fitting.wearer} onDone={() => setGrowing(false)} />
      ) : (
        <div className="mt-1 flex flex-wrap gap-x-4">
          <Hint text={TEXT.aSuitGlovesBoots}>
            <Button look="quiet" className="px-0" disabled={!fitting.wearer} onClick={() => setGrowing(true)}>
              <Sprout size={14} /> {TEXT.growFromSkin}
            </Button>
          </Hint>
          {fitting.rail.length > 1 && (
            <Hint text={TEXT.everyPieceToThis}>
              <Button
                look="quiet"
                className="px-0"
                disabled={outfit.isPending}
                onClick={() =>
                  fitting.wearer &&
                  outfit.mutate({ outfit: fitting.wearer.outfit, body: fitting.wearer.body ?? "", ease: 0.006 })
                }
              >
                <Layers size={14} /> {TEXT.fitTheOutfit}
              </Button>
            </Hint>
          )}
          {fitting.rail.length > 0 && (
            <Hint text={TEXT.lookAtEveryPiece}>
              <Button look="quiet" className="px-0" onClick={() => set({ panel: "wear" })}>
                <Users size={14} /> {TEXT.wearOnTheCast}
              </Button>
            </Hint>
          )}
        </div>
      )}
      <OtherPieces production={production} fitting={fitting} />
      {fitting.rail.length === 0 && <p className="mt-2 text-soft">{TEXT.piecesYouBringIn}</p>}
    </section>
  );
}

function PieceCard({ piece, chosen, onTakeOff }: { piece: Piece; chosen: boolean; onTakeOff(): void }) {
  const { set } = useRoomOf("set");
  const move = useMoveOnRail();
  const fit = stepOf(piece.recipe, "fit");
  const home = stepOf(piece.recipe, "receive")?.made_for?.body;
  const note =
    piece.status === "waiting" || (piece.dressing && piece.status === "done")
      ? TEXT.working
      : piece.status === "failed"
        ? TEXT.needsYou
        : fit
          ? TEXT.easeMm(((fit.ease ?? 0) * 1000).toFixed(0))
          : home && home === piece.recipe.body
            ? TEXT.madeForIt
            : TEXT.notFitted;
  return (
    <div
      className={clsx("group flex items-center rounded-[3px] border bg-card", chosen ? "border-heron" : "border-rule")}
    >
      <button
        type="button"
        className="flex min-w-0 flex-1 cursor-pointer items-center gap-2.5 py-1 pl-1.5 text-left"
        onClick={() => set({ piece: piece.id })}
      >
        {piece.thumb ? (
          <img src={`/api/pictures/${piece.thumb}.png`} alt="" width={36} height={36} />
        ) : (
          <span className="h-9 w-9 rounded-[3px] border border-dashed border-rule" />
        )}
        <span className="truncate font-semibold">{piece.name}</span>
        <span
          className={clsx(
            "ml-auto pr-1 text-[12px] whitespace-nowrap",
            piece.status === "failed" ? "text-amber" : "text-soft",
          )}
        >
          {note}
        </span>
      </button>
      <span className="flex flex-col text-soft opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
        <button
          type="button"
          aria-label={TEXT.wearFurtherOut(piece.name)}
          title={TEXT.furtherOut}
          className="cursor-pointer hover:text-ink"
          onClick={() => move.mutate({ piece: piece.id, outwards: true })}
        >
          <ChevronUp size={13} />
        </button>
        <button
          type="button"
          aria-label={TEXT.wearFurtherIn(piece.name)}
          title={TEXT.furtherIn}
          className="cursor-pointer hover:text-ink"
          onClick={() => move.mutate({ piece: piece.id, outwards: false })}
        >
          <ChevronDown size={13} />
        </button>
      </span>
      <Hint text={TEXT.takeOffTheRail(piece.name)}>
        <button
          type="button"
          aria-label={TEXT.takeOffTheRail(piece.name)}
          className="mr-1 cursor-pointer p-1 text-soft opacity-0 group-hover:opacity-100 hover:text-ink focus-visible:opacity-100"
          onClick={() => window.confirm(TEXT.takeOffTheRailIts(piece.name)) && onTakeOff()}
        >
          <Trash2 size={13} />
        </button>
      </Hint>
    </div>
  );
}

/** The least clearance of a piece over whatever lies under it in this cell, with its name; the others on a hint. */
function Between({ figures, name }: { figures: Figures | undefined; name: string }) {
  const pairs = pairsOver(figures, name);
  const [worst] = pairs;
  const through = !!worst && depthOf(worst) > 0;
  return (
    <div
      title={pairs.length > 1 ? pairs.map(clearanceNamed).join("\n") : undefined}
      className={clsx(
        "ml-5 border-l py-0.5 pl-3 text-[11.5px]",
        through ? "border-l-2 border-coral font-semibold text-coral" : "border-soft/50 text-soft",
      )}
    >
      {worst ? clearanceNamed(worst) : figures ? TEXT.nothingLiesUnderIt : TEXT.notMeasuredYet}
    </div>
  );
}
