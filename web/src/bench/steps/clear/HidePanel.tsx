import { useLasso } from "../../../api/lasso";
import { useKept } from "../../../store/kept";
import { useRoomOf } from "../../../store/room";
import { Button } from "../../../ui/controls";
import type { ClearProps } from "./ClearPanel";
import { around, everyCell } from "./clearSteps";
import { TEXT } from "./texts";

type Of = "skin" | "cloth";
const NAMED = { skin: TEXT.theSkinUnderIt, cloth: TEXT.thisPieceUnderOthers };

/** What is covered is left out: all that no one can see, or what a line on the stage goes round. */
export function HidePanel({ production, piece, fitting, onKeep }: ClearProps) {
  const { lasso, set } = useRoomOf("lasso", "set");
  const asked = useLasso();
  const [meant, setMeant] = useKept<Of>(`hide ${piece.id} of`, "skin");
  const layers = around(fitting.rail, piece);
  const covered = layers.outer.length > 0;
  const waiting = piece.status === "waiting";
  const keep = (of: Of, label: string, drawn?: { faces: number[]; count: number }) =>
    onKeep(
      {
        kind: "hide",
        of,
        cells: drawn ? [] : everyCell(production, piece),
        rings: 2,
        faces: drawn?.faces ?? [],
        by_hand: !!drawn,
        count: drawn && of === "cloth" ? drawn.count : 0,
        ...layers,
      },
      label,
    );
  const draw = (of: Of, how: "hide" | "show") => {
    setMeant(of);
    asked.reset();
    set({
      lasso: (clip, outline) => asked.mutate({ piece: piece.id, cell: fitting.asked, of, how, clip, outline }),
      picking: null,
    });
  };
  const rows: [Of, typeof piece.report.hide][] = [["skin", piece.report.hide]];
  if (covered || piece.report.leave_out) rows.push(["cloth", piece.report.leave_out]);
  const found = asked.data;
  const take = (faces: number[], label: string) => {
    keep(meant, label, { faces, count: found?.count ?? 0 });
    asked.reset();
  };
  return (
    <section aria-label={TEXT.hide} className="mt-2 border-t border-dashed border-rule pt-2">
      {rows.map(([of, told]) => (
        <div key={of} className="mb-1.5">
          <p className="flex items-baseline justify-between gap-2">
            <span>{of === "skin" ? TEXT.skinUnderIt : TEXT.thisPieceUnderOthers2}</span>
            <span className="text-[12px] text-soft">
              {!told?.faces
                ? TEXT.allThere
                : `${told.faces.toLocaleString("en-GB")} faces hidden${told.by_hand ? TEXT.byHand : TEXT.seenInNoneOf(told.cells)}`}
            </span>
          </p>
          <div className="mt-1 flex flex-wrap gap-1.5">
            <Button
              className="px-2!"
              disabled={waiting}
              onClick={() => keep(of, of === "skin" ? TEXT.hideTheSkinNo : TEXT.leaveOutWhatIs)}
            >
              {TEXT.hideTheUnseen}
            </Button>
            <Button
              className="px-2!"
              disabled={waiting}
              aria-label={TEXT.drawRoundItTo(NAMED[of])}
              onClick={() => draw(of, "hide")}
            >
              {TEXT.drawRoundIt}
            </Button>
            {!!told?.faces && (
              <Button
                className="px-2!"
                disabled={waiting}
                aria-label={TEXT.bringBackThatYou(NAMED[of])}
                onClick={() => draw(of, "show")}
              >
                {TEXT.bringBack}
              </Button>
            )}
          </div>
        </div>
      ))}
      {lasso && <p className="text-[12.5px]">{TEXT.drawALineRound}</p>}
      {asked.isPending && <p className="text-[12.5px] text-soft">{TEXT.lookingForHolesIn}</p>}
      {asked.error && <p role="alert">{asked.error.message}</p>}
      {found && (
        <div aria-live="polite" className="rounded-[3px] bg-paper px-2.5 py-2 text-[12.5px]">
          {found.added === 0 ? (
            <p>{TEXT.nothingOfLiesWithin(NAMED[meant])}</p>
          ) : (
            <p>
              {TEXT.facesHiddenInAll(
                Math.abs(found.added).toLocaleString("en-GB"),
                found.added > 0 ? TEXT.moreWouldGo : TEXT.wouldComeBack,
                found.faces.length.toLocaleString("en-GB"),
              )}
            </p>
          )}
          {found.open.length > 0 && (
            <div role="alert" className="mt-1">
              <p className="font-semibold text-coral">{TEXT.aHoleWouldOpen(found.open.length, found.cells)}</p>
              <ul>
                {found.open.slice(0, 4).map((c) => (
                  <li key={`${c.wearer} ${c.pose}`} className="flex justify-between">
                    <span>
                      {c.wearer}, {c.pose.toLowerCase()}
                    </span>
                    <span className="text-coral">{TEXT.cm(c.area_cm2.toFixed(1))}</span>
                  </li>
                ))}
              </ul>
            </div>
          )}
          {found.added !== 0 && found.open.length === 0 && found.faces.length > 0 && (
            <p className="text-moss">{TEXT.missedInNoneOf(found.cells)}</p>
          )}
          <div className="mt-1.5 flex flex-wrap gap-1.5">
            {found.added !== 0 && found.open.length === 0 && (
              <Button
                look="primary"
                onClick={() => take(found.faces, found.added > 0 ? TEXT.hideByHand : TEXT.bringBackByHand)}
              >
                {found.added > 0 ? TEXT.hideIt : TEXT.bringItBack}
              </Button>
            )}
            {found.open.length > 0 && (
              <>
                <Button look="primary" disabled={!found.safe.length} onClick={() => take(found.safe, TEXT.hideByHand)}>
                  {TEXT.hideOnlyWhatNo}
                </Button>
                <Button onClick={() => take(found.faces, TEXT.hideByHandWith)}>{TEXT.hideItAllThe}</Button>
              </>
            )}
            <Button look="quiet" className="px-1" onClick={() => asked.reset()}>
              {TEXT.leaveIt}
            </Button>
          </div>
        </div>
      )}
      {fitting.measured && fitting.measured.figures.holes_cm2 > 0.1 && (
        <p role="alert" className="text-coral">
          {TEXT.aHoleOfCm(
            fitting.measured.figures.holes_cm2.toFixed(1),
            (fitting.measured.figures.holes ?? []).map((h) => (h.of === "Skin" ? "hidden skin" : h.of)).join(", "),
          )}
        </p>
      )}
    </section>
  );
}
