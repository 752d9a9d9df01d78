import type { Laid, Panel, Spot } from "../../api/table";
import { Button, NumberField } from "../../ui/controls";
import { Choice, Select } from "../../ui/Select";
import { CornerFacts } from "./CornerFacts";
import { EdgeFacts } from "./EdgeFacts";
import { lengthOf, onFold } from "./panels/panelPath";
import type { Table } from "./useTable";

const PARTS: [Panel["laid"]["part"], string][] = [
  ["torso", "torso"],
  ["arm", "an arm"],
  ["leg", "a leg"],
  ["side of the head", "head, side"],
  ["shoulders", "shoulders"],
];

/** What can be done to the chosen panel, its chosen edge or corner. */
export function PanelFacts({ table, laid, panel }: { table: Table; laid: Laid; panel: Panel }) {
  const { edge, corner, line } = table.chosen ?? { edge: null, corner: null };
  const keep = (next: Panel, label: string) =>
    table.keep({ ...laid.layout, panels: laid.layout.panels.map((p) => (p.name === panel.name ? next : p)) }, label);
  return (
    <section aria-label={`The panel ${panel.name}`} className="border-t border-dashed border-rule pt-2">
      <div className="flex items-center justify-between">
        <h3 className="font-title text-[15px]">{panel.name}</h3>
        <Button look="quiet" className="px-1" onClick={() => table.dropPanel(panel.name)}>
          Take it away
        </Button>
      </div>
      <Choice
        word="Cut"
        className="mt-1"
        value={panel.half}
        onChoose={(v) => keep({ ...panel, half: v as Panel["half"] }, `Cut ${panel.name} anew`)}
      >
        <option value="single">once, as drawn</option>
        <option value="pair">twice, mirrored</option>
        <option value="fold">on the fold, half drawn</option>
      </Choice>
      <label className="mt-1 flex items-baseline gap-2">
        <span className="min-w-12 text-soft">Laid</span>
        <Select
          label="Laid on"
          className="min-w-0 flex-1"
          value={panel.laid.part}
          onChoose={(v) =>
            keep({ ...panel, laid: { ...panel.laid, part: v as Panel["laid"]["part"] } }, `Lay ${panel.name} elsewhere`)
          }
        >
          {PARTS.map(([part, label]) => (
            <option key={part} value={part}>
              {label}
            </option>
          ))}
        </Select>
        <Select
          label="Side"
          value={panel.laid.face}
          onChoose={(v) =>
            keep(
              { ...panel, laid: { ...panel.laid, face: v as "front" | "back" } },
              `Lay ${panel.name} on the other side`,
            )
          }
        >
          <option>front</option>
          <option>back</option>
        </Select>
      </label>
      <div className="mt-1 flex gap-2">
        <NumberField
          label="Grain"
          unit="°"
          digits={0}
          step={5}
          value={panel.grain}
          onCommit={(grain) => keep({ ...panel, grain }, `Turn the grain of ${panel.name}`)}
        />
        <NumberField
          label="Raised"
          unit="cm"
          value={100 * panel.laid.raised}
          onCommit={(v) => keep({ ...panel, laid: { ...panel.laid, raised: v / 100 } }, `Raise ${panel.name}`)}
        />
        <NumberField
          label="Aside"
          unit="cm"
          value={100 * panel.laid.aside}
          onCommit={(v) => keep({ ...panel, laid: { ...panel.laid, aside: v / 100 } }, `Move ${panel.name} aside`)}
        />
      </div>
      {edge !== null && !onFold(panel, edge) && (
        <EdgeFacts table={table} laid={laid} panel={panel} edge={edge} keep={keep} />
      )}
      {corner !== null && <CornerFacts table={table} laid={laid} panel={panel} corner={corner} keep={keep} />}
      {line !== undefined && panel.lines[line] && (
        <div className="mt-2 flex items-center justify-between">
          <p>
            Line {line + 1}:{" "}
            <b className="font-semibold">{(100 * lengthOf(panel.lines[line] as Spot[])).toFixed(1)} cm</b>
          </p>
          <Button onClick={() => table.dropLine(panel.name, line)}>Take the line out</Button>
        </div>
      )}
      {edge === null && corner === null && line === undefined && (
        <p className="mt-1 text-[12px] text-soft">
          Drag its corners and the round handles of its curves; Shift keeps to half centimetres. Double-click an edge
          for a corner more. Click an edge for darts, pleats and notches, a line inside to move its points.
        </p>
      )}
    </section>
  );
}
