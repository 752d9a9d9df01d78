import { useState } from "react";
import { useAdjusters } from "../../api/work";
import { item } from "../../recipe/at";
import type { StepOf } from "../../recipe/recipe";
import { workOf } from "../../recipe/recipe";
import { useKept } from "../../store/kept";
import { useRoom } from "../../store/room";
import { Button, Hint, NumberField } from "../../ui/controls";
import { Select } from "../../ui/Select";
import { TEXT } from "../texts";
import type { ToolProps, WorkTool } from "../tool";

type Trim = StepOf<"trim">;
type Triple = [number, number, number];
type Hem = Pick<Trim, "hem" | "thick">;

/** Shortening at an opening, cutting along a drawn line, and cutting out; the hem goes for all three. */
function Cutting(props: ToolProps) {
  const [hem, setHem] = useKept("trim hem", 2);
  const hemmed = { hem: hem / 100, thick: 0.0015 };
  return (
    <div className="flex w-full flex-col gap-2 border-b border-dashed border-rule pb-2">
      <Shorten {...props} hemmed={hemmed} />
      <div className="flex flex-wrap items-end gap-1">
        <div className="w-16">
          <NumberField label={TEXT.hem} unit="cm" value={hem} onCommit={(v) => setHem(Math.max(0, v))} />
        </div>
        <DrawnCut {...props} hemmed={hemmed} />
        <CutOut {...props} hemmed={hemmed} />
      </div>
    </div>
  );
}

/** Cut a sleeve, a leg or a hem shorter by its length. */
function Shorten({ piece, onWork, hemmed }: ToolProps & { hemmed: Hem }) {
  const found = useAdjusters(piece, true);
  const [at, setAt] = useState("");
  const [length, setLength] = useKept("trim length", 12);
  const openings = found.data?.openings ?? [];
  const both = [...new Set(openings.map((o) => o.label.replace(/^(Left|Right) /, "")))];
  const chosen = at || openings.find((o) => o.name.includes("cuff"))?.name || openings[0]?.name || "";
  const shorten = () => {
    const cuts = openings.filter(
      (o) => o.name === chosen || (chosen.startsWith("both ") && o.name.endsWith(chosen.slice(5))),
    );
    const steps = cuts.map((o): Trim => {
      const way = o.way as Triple;
      const point = o.end.map((x, k) => x - (item(way, k) * length) / 100) as Triple;
      return { kind: "trim", cut: { by: "plane", point, normal: way }, off: o.end as Triple, ...hemmed };
    });
    onWork([...workOf(piece.recipe), ...steps], TEXT.shortenByCm(chosen, length));
  };
  return (
    <div className="flex items-end gap-1.5">
      <label className="flex min-w-0 flex-1 flex-col gap-0.5 text-[11.5px] text-soft">
        {TEXT.shortenAt}
        <Select label={TEXT.shortenAt} className="text-[13px]" value={chosen} onChoose={(v) => setAt(v)}>
          {both
            .filter((label) => openings.filter((o) => o.label.endsWith(` ${label}`)).length === 2)
            .map((label) => (
              <option key={label} value={`both ${label}`}>
                {TEXT.bothS(label)}
              </option>
            ))}
          {openings.map((o) => (
            <option key={o.name} value={o.name}>
              {o.label}
            </option>
          ))}
        </Select>
      </label>
      <div className="w-16">
        <NumberField label={TEXT.by} unit="cm" digits={0} value={length} onCommit={(v) => v > 0 && setLength(v)} />
      </div>
      <Button onClick={shorten} disabled={!openings.length}>
        {TEXT.cut}
      </Button>
    </div>
  );
}

/** Cut along a line drawn over the cloth: a part off, or a slit. */
function DrawnCut({ onAdd, hemmed }: ToolProps & { hemmed: Hem }) {
  const picking = useRoom((room) => room.picking?.kind);
  const [drawn, setDrawn] = useState<{ points: Triple[]; closed: boolean } | null>(null);
  const draw = () => {
    const { set, say, hand } = useRoom.getState();
    set({
      hand: { ...hand, tool: null },
      picking: {
        kind: "line",
        done: ({ points }) => {
          const a = points[0];
          const b = points[points.length - 1];
          const closed = points.length > 8 && !!a && !!b && Math.hypot(...a.map((x, k) => x - item(b, k))) < 0.04;
          if (points.length < 2) say({ kind: "problem", text: TEXT.dragOverThePiece });
          else setDrawn({ points, closed });
        },
      },
    });
  };
  const cut = (off: Triple | null) => {
    if (!drawn) return;
    const label = off ? TEXT.trimAlongALine : TEXT.slitAlongALine;
    onAdd({ kind: "trim", cut: { by: "curve", ...drawn }, off, ...hemmed }, label);
    setDrawn(null);
  };
  const takeOff = () =>
    useRoom.getState().set({ picking: { kind: "off", done: ({ points }) => cut(item(points, 0)) } });
  return (
    <>
      <Hint text={TEXT.dragALineOver}>
        <Button aria-pressed={picking === "line"} onClick={draw}>
          {picking === "line" ? TEXT.dragOverIt : TEXT.drawACut}
        </Button>
      </Hint>
      {drawn && (
        <div className="order-last flex w-full flex-wrap items-center gap-1.5 rounded-[3px] border border-dashed border-heron px-2 py-1.5">
          <span>{drawn.closed ? TEXT.aClosedLine : "A line."}</span>
          <Button aria-pressed={picking === "off"} onClick={takeOff}>
            {picking === "off" ? TEXT.clickThatPart : TEXT.takeAPartOff}
          </Button>
          <Button onClick={() => cut(null)}>{TEXT.openAsASlit}</Button>
          <Button look="quiet" className="px-0" onClick={() => setDrawn(null)}>
            {TEXT.leaveIt}
          </Button>
        </div>
      )}
    </>
  );
}

/** Cut out what is dragged over. */
function CutOut({ onAdd, hemmed }: ToolProps & { hemmed: Hem }) {
  const picking = useRoom((room) => room.picking?.tool === "trim");
  const select = () => {
    const { set, hand } = useRoom.getState();
    const cut = (rows: number[]): Trim => ({
      kind: "trim",
      cut: { by: "selection", rows: [...new Set(rows)], radius: useRoom.getState().hand.radius },
      ...hemmed,
    });
    set({
      hand: { ...hand, tool: null },
      picking: { kind: "select", tool: "trim", done: ({ rows }) => onAdd(cut(rows), TEXT.cutOut) },
    });
  };
  return (
    <Hint text={TEXT.dragOverWhatIs}>
      <Button aria-pressed={picking} onClick={select}>
        {picking ? TEXT.dragOverIt : TEXT.cutOut}
      </Button>
    </Hint>
  );
}

const tool: WorkTool<"trim"> = {
  kind: "trim",
  describe: (step) => (step.off ? TEXT.trim : step.cut.by === "selection" ? TEXT.cutOut : TEXT.slit),
  Panel: Cutting,
};
export default tool;
