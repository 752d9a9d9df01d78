import { X } from "lucide-react";
import type { Piece, Step } from "../../../api/client";
import { workOf } from "../../../recipe/recipe";
import type { PieceMesh } from "../../../stage/mesh/piece";
import { useKept } from "../../../store/kept";
import { useRoomOf } from "../../../store/room";
import { Tabs } from "../../../ui/Tabs";
import { describe } from "../../tool";
import { AdjustTab } from "./AdjustTab";
import { CutTab } from "./CutTab";
import { HandTab } from "./HandTab";
import { TEXT } from "./texts";

export interface WorkProps {
  piece: Piece;
  mesh: PieceMesh | undefined;
  /** Keep the work alterations as they are to stand. */
  onWork(work: Step[], label: string): void;
  /** The pose on the axis, and what keeps adjusters for it alone; null until the piece is bound. */
  poseName: string;
  onPoseKeyed: ((values: Record<string, number>) => void) | null;
}

const TABS = [TEXT.byHand, TEXT.adjusters, TEXT.cut] as const;

/** The work step: hand tools, adjusters, cutting, and the list of what has been done. */
export function WorkPanel(props: WorkProps) {
  const { piece, onWork } = props;
  const [tab, setTab] = useKept<(typeof TABS)[number]>(`work ${piece.id} tab`, "Adjusters");
  const { set, hand } = useRoomOf("set", "hand");
  const work = workOf(piece.recipe);
  const open = (name: (typeof TABS)[number]) => {
    setTab(name);
    set({ picking: null, hand: { ...hand, tool: name === "By hand" ? "pull" : null } });
  };
  return (
    <div>
      <Tabs names={TABS} open={tab} onOpen={open} />
      {tab === "By hand" && <HandTab {...props} />}
      {tab === "Adjusters" && <AdjustTab {...props} />}
      {tab === "Cut" && <CutTab {...props} />}
      {work.length > 0 && (
        <ol
          className="mt-2 max-h-44 overflow-y-auto border-t border-dashed border-rule pt-1.5"
          aria-label={TEXT.alterations}
        >
          {work.map((step, i) => (
            <li
              // biome-ignore lint/suspicious/noArrayIndexKey: an alteration is known by its place
              key={i}
              className="flex items-center gap-1"
            >
              <span className="w-5 text-right text-[11.5px] text-soft">{i + 1}</span>
              <span className="truncate">{describe(step)}</span>
              <span className="ml-auto truncate text-[11.5px] text-soft">{outcome(piece, i)}</span>
              <button
                type="button"
                aria-label={TEXT.takeBack(describe(step))}
                title={TEXT.takeThisOneBack}
                className="cursor-pointer p-0.5 text-soft hover:text-ink"
                onClick={() =>
                  onWork(
                    work.filter((_, k) => k !== i),
                    TEXT.without(describe(step).toLowerCase()),
                  )
                }
              >
                <X size={12} />
              </button>
            </li>
          ))}
        </ol>
      )}
    </div>
  );
}

function outcome(piece: Piece, i: number): string {
  const found = piece.report.work[i];
  if (!found) return "";
  if (found.lost > 0) return TEXT.itsPlaceWasCut;
  if (found.removed) return TEXT.facesOff(found.removed);
  if (found.slit) return "opened";
  if (found.vertices) return TEXT.vertices(found.vertices);
  if (found.moved) return `${(found.moved * 100).toFixed(1)} cm`;
  return "";
}
