import type { Laid, Panel } from "../../api/table";
import { item } from "../../recipe/at";
import { useKept } from "../../store/kept";
import { Button, NumberField } from "../../ui/controls";
import { TEXT } from "./texts";
import type { Table } from "./useTable";

interface Props {
  table: Table;
  laid: Laid;
  panel: Panel;
  edge: number;
  keep(next: Panel, label: string): void;
}

/** How long an edge is, and what can be done to it: a curve, a corner more, darts, pleats, notches, held fast. */
export function EdgeFacts({ table, laid, panel, edge, keep }: Props) {
  const [wide, setWide] = useKept("dart width", 3);
  const [deep, setDeep] = useKept("dart depth", 10);
  const bend = () => {
    const a = item(panel.outline, edge);
    const b = item(panel.outline, (edge + 1) % panel.outline.length);
    const third = (t: number): [number, number] => [
      a.at[0] + t * (b.at[0] - a.at[0]),
      a.at[1] + t * (b.at[1] - a.at[1]),
    ];
    const curved = a.bend ? null : ([third(1 / 3), third(2 / 3)] as [[number, number], [number, number]]);
    keep(
      { ...panel, outline: panel.outline.map((c, i) => (i === edge ? { ...c, bend: curved } : c)) },
      a.bend ? TEXT.straightenAnEdgeOf(panel.name) : TEXT.curveAnEdgeOf(panel.name),
    );
  };
  const dart = (what: "dart" | "pleat") =>
    table.work.mutate({
      laid,
      do: what,
      panel: panel.name,
      edge,
      share: 0.5,
      wide: wide / 100,
      deep: (what === "dart" ? deep : wide) / 100,
    });
  const fast = laid.layout.fast.some((s) => s.panel === panel.name && s.edge === edge);
  return (
    <div className="mt-2">
      <p>
        {TEXT.edge} {edge + 1}:{" "}
        <b className="font-semibold">{TEXT.cm((100 * (laid.edges[panel.name]?.[edge] ?? 0)).toFixed(1))}</b>
      </p>
      <div className="mt-1 flex gap-2">
        <NumberField label={TEXT.wide} unit="cm" value={wide} onCommit={(v) => setWide(Math.max(0.2, v))} />
        <NumberField label={TEXT.deep} unit="cm" value={deep} onCommit={(v) => setDeep(Math.max(0.5, v))} />
      </div>
      <div className="mt-1 flex flex-wrap gap-1">
        <Button onClick={bend}>{item(panel.outline, edge).bend ? TEXT.straighten : TEXT.curve}</Button>
        <Button
          onClick={() =>
            table.work.mutate({ laid, do: "split", panel: panel.name, edge, share: 0.5, wide: 0.03, deep: 0.1 })
          }
        >
          {TEXT.corner2}
        </Button>
        <Button onClick={() => dart("dart")}>{TEXT.dart}</Button>
        <Button onClick={() => dart("pleat")}>{TEXT.pleat}</Button>
        <Button onClick={() => keep({ ...panel, notches: [...panel.notches, [edge, 0.5]] }, TEXT.aNotchIn(panel.name))}>
          {TEXT.notch}
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
              fast ? TEXT.letAnEdgeOf(panel.name) : TEXT.holdAnEdgeOf(panel.name),
            )
          }
        >
          {TEXT.holdFast}
        </Button>
      </div>
    </div>
  );
}
