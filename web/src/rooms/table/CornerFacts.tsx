import type { Laid, Panel } from "../../api/table";
import { item } from "../../recipe/at";
import { Button, NumberField } from "../../ui/controls";
import { TEXT } from "./texts";
import type { Table } from "./useTable";

interface Props {
  table: Table;
  laid: Laid;
  panel: Panel;
  corner: number;
  keep(next: Panel, label: string): void;
}

/** Where a corner lies; it can be moved by number and taken out. */
export function CornerFacts({ table, laid, panel, corner, keep }: Props) {
  return (
    <div className="mt-2 flex items-end gap-2">
      {(["across", "height"] as const).map((label, k) => (
        <NumberField
          key={label}
          label={TEXT.corner(corner + 1, label)}
          unit="cm"
          value={100 * item(item(panel.outline, corner).at, k)}
          onCommit={(v) =>
            keep(
              {
                ...panel,
                outline: panel.outline.map((c, i) =>
                  i === corner ? { ...c, at: (k ? [c.at[0], v / 100] : [v / 100, c.at[1]]) as [number, number] } : c,
                ),
              },
              TEXT.moveACornerOf(panel.name),
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
        {TEXT.takeOut}
      </Button>
    </div>
  );
}
