import { useState } from "react";
import type { Laid, Panel, Spot } from "../../api/table";
import { item } from "../../recipe/at";
import { Button, Choice, NumberField } from "../../ui/controls";
import { lengthOf, onFold } from "./panelPath";
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
  const [wide, setWide] = useState(3);
  const [deep, setDeep] = useState(10);
  const { edge, corner, line } = table.chosen ?? { edge: null, corner: null };
  const keep = (next: Panel, label: string) =>
    table.keep({ ...laid.layout, panels: laid.layout.panels.map((p) => (p.name === panel.name ? next : p)) }, label);
  const bend = (at: number) => {
    const a = item(panel.outline, at);
    const b = item(panel.outline, (at + 1) % panel.outline.length);
    const third = (t: number): [number, number] => [
      a.at[0] + t * (b.at[0] - a.at[0]),
      a.at[1] + t * (b.at[1] - a.at[1]),
    ];
    const curved = a.bend ? null : ([third(1 / 3), third(2 / 3)] as [[number, number], [number, number]]);
    keep(
      { ...panel, outline: panel.outline.map((c, i) => (i === at ? { ...c, bend: curved } : c)) },
      a.bend ? `Straighten an edge of ${panel.name}` : `Curve an edge of ${panel.name}`,
    );
  };
  const dart = (what: "dart" | "pleat") =>
    table.work.mutate({
      laid,
      do: what,
      panel: panel.name,
      edge: edge ?? 0,
      share: 0.5,
      wide: wide / 100,
      deep: (what === "dart" ? deep : wide) / 100,
    });
  const fast = edge !== null && laid.layout.fast.some((s) => s.panel === panel.name && s.edge === edge);
  return (
    <section aria-label={`The panel ${panel.name}`} className="border-t border-dashed border-rule pt-2">
      <div className="flex items-center justify-between">
        <h3 className="font-title text-[15px]">{panel.name}</h3>
        <Button look="quiet" className="px-1" onClick={() => table.dropPanel(panel.name)}>
          Take it away
        </Button>
      </div>
      <Choice
        label="Cut"
        className="mt-1"
        value={panel.half}
        onChange={(e) => keep({ ...panel, half: e.target.value as Panel["half"] }, `Cut ${panel.name} anew`)}
      >
        <option value="single">once, as drawn</option>
        <option value="pair">twice, mirrored</option>
        <option value="fold">on the fold, half drawn</option>
      </Choice>
      <label className="mt-1 flex items-baseline gap-2">
        <span className="min-w-12 text-soft">Laid</span>
        <select
          className="min-w-0 flex-1 rounded-[3px] border border-rule bg-card px-1.5 py-1"
          value={panel.laid.part}
          onChange={(e) =>
            keep(
              { ...panel, laid: { ...panel.laid, part: e.target.value as Panel["laid"]["part"] } },
              `Lay ${panel.name} elsewhere`,
            )
          }
        >
          {PARTS.map(([part, label]) => (
            <option key={part} value={part}>
              {label}
            </option>
          ))}
        </select>
        <select
          aria-label="Side"
          className="rounded-[3px] border border-rule bg-card px-1.5 py-1"
          value={panel.laid.face}
          onChange={(e) =>
            keep(
              { ...panel, laid: { ...panel.laid, face: e.target.value as "front" | "back" } },
              `Lay ${panel.name} on the other side`,
            )
          }
        >
          <option>front</option>
          <option>back</option>
        </select>
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
        <div className="mt-2">
          <p>
            Edge {edge + 1}:{" "}
            <b className="font-semibold">{(100 * (laid.edges[panel.name]?.[edge] ?? 0)).toFixed(1)} cm</b>
          </p>
          <div className="mt-1 flex gap-2">
            <NumberField label="Wide" unit="cm" value={wide} onCommit={(v) => setWide(Math.max(0.2, v))} />
            <NumberField label="Deep" unit="cm" value={deep} onCommit={(v) => setDeep(Math.max(0.5, v))} />
          </div>
          <div className="mt-1 flex flex-wrap gap-1">
            <Button onClick={() => bend(edge)}>{item(panel.outline, edge).bend ? "Straighten" : "Curve"}</Button>
            <Button
              onClick={() =>
                table.work.mutate({ laid, do: "split", panel: panel.name, edge, share: 0.5, wide: 0.03, deep: 0.1 })
              }
            >
              Corner
            </Button>
            <Button onClick={() => dart("dart")}>Dart</Button>
            <Button onClick={() => dart("pleat")}>Pleat</Button>
            <Button
              onClick={() => keep({ ...panel, notches: [...panel.notches, [edge, 0.5]] }, `A notch in ${panel.name}`)}
            >
              Notch
            </Button>
            <Button
              aria-pressed={fast}
              className={fast ? "border-heron font-semibold" : ""}
              onClick={() =>
                table.keep(
                  {
                    ...laid.layout,
                    fast: fast
                      ? laid.layout.fast.filter((s) => s.panel !== panel.name || s.edge !== edge)
                      : [...laid.layout.fast, { panel: panel.name, edge, other: false }],
                  },
                  fast ? `Let an edge of ${panel.name} fall` : `Hold an edge of ${panel.name} fast`,
                )
              }
            >
              Hold fast
            </Button>
          </div>
        </div>
      )}
      {corner !== null && (
        <div className="mt-2 flex items-end gap-2">
          {(["across", "height"] as const).map((label, k) => (
            <NumberField
              key={label}
              label={`Corner ${corner + 1}, ${label}`}
              unit="cm"
              value={100 * item(item(panel.outline, corner).at, k)}
              onCommit={(v) =>
                keep(
                  {
                    ...panel,
                    outline: panel.outline.map((c, i) =>
                      i === corner
                        ? { ...c, at: (k ? [c.at[0], v / 100] : [v / 100, c.at[1]]) as [number, number] }
                        : c,
                    ),
                  },
                  `Move a corner of ${panel.name}`,
                )
              }
            />
          ))}
          <Button
            onClick={() => {
              table.work.mutate({
                laid,
                do: "join",
                panel: panel.name,
                edge: corner,
                share: 0.5,
                wide: 0.03,
                deep: 0.1,
              });
              table.setChosen({ panel: panel.name, edge: null, corner: null });
            }}
          >
            Take out
          </Button>
        </div>
      )}
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
