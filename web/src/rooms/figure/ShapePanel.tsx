import { ChevronRight, Link2, Link2Off, Redo2, RotateCcw, Undo2, UserMinus } from "lucide-react";
import { useState } from "react";
import type { Production, Wearer } from "../../api/client";
import { useDropWearer, useSetShape, useShapeHistory } from "../../api/hooks";
import { useRoom, useRoomOf } from "../../store/room";
import { Check } from "../../ui/Check";
import { Slider } from "../../ui/controls";
import { PanelTool, StagePanel } from "../../ui/StagePanel";
import { TEXT } from "./texts";

type Settings = Record<string, number>;
type ShapeInfo = Production["shapes"][number];
const LEFT = "_left";

/** The wearer's shapes: live while dragged, kept when let go. */
export function ShapePanel({ shapes, wearer }: { shapes: ShapeInfo[]; wearer: Wearer }) {
  const { live, set } = useRoomOf("live", "set");
  const keep = useSetShape();
  const { undo, redo } = useShapeHistory();
  const drop = useDropWearer();
  const shape = live ?? wearer.shape;
  const groups = [...new Set(shapes.map((s) => s.group))];
  const [open, setOpen] = useState(groups[0]);
  const [beyond, setBeyond] = useState(false);
  const show = (next: Settings) => set({ live: next });
  const commit = (next: Settings) => {
    const kept = inUse(next);
    set({ live: kept });
    keep.mutate(
      { wearer: wearer.id, shape: kept },
      { onSettled: () => useRoom.getState().live === kept && set({ live: null }) }, // unless a slider has moved since
    );
  };
  return (
    <StagePanel
      title={TEXT.shape}
      label={TEXT.shapeOf(wearer.name)}
      tools={
        <>
          <PanelTool
            name={TEXT.undoShape}
            hint={TEXT.undoTheLastChange}
            disabled={!wearer.can_undo}
            onClick={() => undo.mutate(wearer.id)}
          >
            <Undo2 size={14} />
          </PanelTool>
          <PanelTool
            name={TEXT.redoShape}
            hint={TEXT.doItAgainCtrl}
            disabled={!wearer.can_redo}
            onClick={() => redo.mutate(wearer.id)}
          >
            <Redo2 size={14} />
          </PanelTool>
          <PanelTool name={TEXT.allShapesToThe} onClick={() => commit({})}>
            <RotateCcw size={14} />
          </PanelTool>
          <PanelTool
            name={TEXT.takeOutOfThe(wearer.name)}
            onClick={() =>
              window.confirm(TEXT.takeOutOfTheCast(wearer.name)) &&
              drop.mutate(wearer.id, { onSuccess: () => set({ wearer: null, live: null, panel: null }) })
            }
          >
            <UserMinus size={14} />
          </PanelTool>
        </>
      }
    >
      {!shapes.length && <p className="text-soft">{TEXT.thisBodyCameWithout}</p>}
      {groups.map((group) => {
        const here = shapes.filter((s) => s.group === group);
        const used = here.filter((s) => shape[s.name] || shape[s.name + LEFT]).length;
        return (
          <section key={group}>
            <button
              type="button"
              aria-expanded={open === group}
              onClick={() => setOpen(open === group ? "" : group)}
              className="flex w-full cursor-pointer items-center border-b border-dashed border-rule py-1.5 text-[12.5px] hover:text-heron"
            >
              <ChevronRight size={13} className={open === group ? "mr-1 rotate-90" : "mr-1"} />
              <span className="first-letter:uppercase">{group}</span>
              <span className="ml-auto text-[11.5px] text-soft">{used ? TEXT.of(used, here.length) : here.length}</span>
            </button>
            {open === group && (
              <div className="py-1">
                {here.map((s) => (
                  <ShapeRow
                    key={s.name}
                    info={s}
                    shape={shape}
                    reach={beyond ? 1.5 : 1}
                    onShow={show}
                    onKeep={commit}
                  />
                ))}
              </div>
            )}
          </section>
        );
      })}
      <Check className="mt-2 text-[11.5px] text-soft" checked={beyond} onChange={(on) => setBeyond(on)}>
        {TEXT.allowValuesBeyondThe}
      </Check>
    </StagePanel>
  );
}

function inUse(shape: Settings): Settings {
  return Object.fromEntries(Object.entries(shape).filter(([, value]) => value !== 0));
}

interface RowProps {
  info: ShapeInfo;
  shape: Settings;
  reach: number;
  onShow(next: Settings): void;
  onKeep(next: Settings): void;
}

/** One shape; a sided one can be split, and then its left side moves alone. */
function ShapeRow({ info, shape, reach, onShow, onKeep }: RowProps) {
  const both = shape[info.name] ?? 0;
  const left = shape[info.name + LEFT] ?? 0;
  const [split, setSplit] = useState(left !== 0);
  const limit = Math.max(reach, Math.abs(both), Math.abs(both + left));
  const past = Math.abs(both) > 1 || Math.abs(both + left) > 1;
  const put = (right: number, leftSide: number): Settings => ({
    ...shape,
    [info.name]: right,
    ...(info.sided ? { [info.name + LEFT]: Number((leftSide - right).toFixed(4)) } : {}),
  });
  const slider = (label: string, value: number, next: (v: number) => Settings, ends?: [string, string]) => (
    <Slider
      label={label}
      min={Math.max(info.least, -limit)}
      max={limit}
      step={0.01}
      value={value}
      ends={ends}
      onChange={(v) => onShow(next(v))}
      onCommit={(v) => onKeep(next(v))}
    />
  );
  return (
    <div className="relative">
      {info.sided && (
        <button
          type="button"
          aria-pressed={split}
          aria-label={split ? TEXT.bothSidesTogether(info.label) : TEXT.eachSideAlone(info.label)}
          title={split ? TEXT.bothSidesTogether2 : TEXT.eachSideAlone2}
          className="absolute top-[3px] right-9 cursor-pointer text-soft hover:text-heron"
          onClick={() => {
            if (split && left) onKeep(put(both, both));
            setSplit(!split);
          }}
        >
          {split ? <Link2Off size={13} /> : <Link2 size={13} />}
        </button>
      )}
      {split ? (
        <>
          {slider(TEXT.left(info.label), both + left, (v) => put(both, v))}
          {slider(TEXT.right(info.label), both, (v) => put(v, both + left))}
        </>
      ) : (
        slider(info.label, both, (v) => put(v, v + left), [info.less, info.more])
      )}
      {past && <p className="text-[11px] text-amber">{TEXT.beyondTheTestedRange}</p>}
    </div>
  );
}
