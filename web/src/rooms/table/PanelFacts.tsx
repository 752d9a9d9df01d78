import type { Laid, Panel, Spot } from "../../api/table";
import { Button, NumberField } from "../../ui/controls";
import { Choice, Select } from "../../ui/Select";
import { CornerFacts } from "./CornerFacts";
import { EdgeFacts } from "./EdgeFacts";
import { lengthOf, onFold } from "./panels/panelPath";
import { TEXT } from "./texts";
import type { Table } from "./useTable";

const PARTS: [Panel["laid"]["part"], string][] = [
  ["torso", "torso"],
  ["arm", TEXT.anArm],
  ["leg", "a leg"],
  ["side of the head", TEXT.headSide],
  ["shoulders", "shoulders"],
];

/** What can be done to the chosen panel, its chosen edge or corner. */
export function PanelFacts({ table, laid, panel }: { table: Table; laid: Laid; panel: Panel }) {
  const { edge, corner, line } = table.chosen ?? { edge: null, corner: null };
  const keep = (next: Panel, label: string) =>
    table.keep({ ...laid.layout, panels: laid.layout.panels.map((p) => (p.name === panel.name ? next : p)) }, label);
  return (
    <section aria-label={TEXT.thePanel(panel.name)} className="border-t border-dashed border-rule pt-2">
      <div className="flex items-center justify-between">
        <h3 className="font-title text-[15px]">{panel.name}</h3>
        <Button look="quiet" className="px-1" onClick={() => table.dropPanel(panel.name)}>
          {TEXT.takeItAway}
        </Button>
      </div>
      <Choice
        word={TEXT.cut}
        className="mt-1"
        value={panel.half}
        onChoose={(v) => keep({ ...panel, half: v as Panel["half"] }, TEXT.cutAnew(panel.name))}
      >
        <option value="single">{TEXT.onceAsDrawn}</option>
        <option value="pair">{TEXT.twiceMirrored}</option>
        <option value="fold">{TEXT.onTheFoldHalf}</option>
      </Choice>
      <label className="mt-1 flex items-baseline gap-2">
        <span className="min-w-12 text-soft">{TEXT.laid}</span>
        <Select
          label={TEXT.laidOn}
          className="min-w-0 flex-1"
          value={panel.laid.part}
          onChoose={(v) =>
            keep({ ...panel, laid: { ...panel.laid, part: v as Panel["laid"]["part"] } }, TEXT.layElsewhere(panel.name))
          }
        >
          {PARTS.map(([part, label]) => (
            <option key={part} value={part}>
              {label}
            </option>
          ))}
        </Select>
        <Select
          label={TEXT.side}
          value={panel.laid.face}
          onChoose={(v) =>
            keep({ ...panel, laid: { ...panel.laid, face: v as "front" | "back" } }, TEXT.layOnTheOther(panel.name))
          }
        >
          <option>{TEXT.front}</option>
          <option>{TEXT.back}</option>
        </Select>
      </label>
      <div className="mt-1 flex gap-2">
        <NumberField
          label={TEXT.grain}
          unit="°"
          digits={0}
          step={5}
          value={panel.grain}
          onCommit={(grain) => keep({ ...panel, grain }, TEXT.turnTheGrainOf(panel.name))}
        />
        <NumberField
          label={TEXT.raised}
          unit="cm"
          value={100 * panel.laid.raised}
          onCommit={(v) => keep({ ...panel, laid: { ...panel.laid, raised: v / 100 } }, TEXT.raise(panel.name))}
        />
        <NumberField
          label={TEXT.aside}
          unit="cm"
          value={100 * panel.laid.aside}
          onCommit={(v) => keep({ ...panel, laid: { ...panel.laid, aside: v / 100 } }, TEXT.moveAside(panel.name))}
        />
      </div>
      {edge !== null && !onFold(panel, edge) && (
        <EdgeFacts table={table} laid={laid} panel={panel} edge={edge} keep={keep} />
      )}
      {corner !== null && <CornerFacts table={table} laid={laid} panel={panel} corner={corner} keep={keep} />}
      {line !== undefined && panel.lines[line] && (
        <div className="mt-2 flex items-center justify-between">
          <p>
            {TEXT.line} {line + 1}:{" "}
            <b className="font-semibold">{TEXT.cm2((100 * lengthOf(panel.lines[line] as Spot[])).toFixed(1))}</b>
          </p>
          <Button onClick={() => table.dropLine(panel.name, line)}>{TEXT.takeTheLineOut}</Button>
        </div>
      )}
      {edge === null && corner === null && line === undefined && (
        <p className="mt-1 text-[12px] text-soft">{TEXT.dragItsCornersAnd}</p>
      )}
    </section>
  );
}
