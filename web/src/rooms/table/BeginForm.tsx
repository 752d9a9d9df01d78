import { FileUp } from "lucide-react";
import type { Production } from "../../api/client";
import { useBlocks } from "../../api/table";
import { useKept } from "../../store/kept";
import { Button, NumberField } from "../../ui/controls";
import { FileButton } from "../../ui/FileButton";
import { Choice } from "../../ui/Select";
import { TEXT } from "./texts";
import type { Table } from "./useTable";

/** Begin a layout: a block drafted to a wearer's measures, a drawing, or an empty table. */
export function BeginForm({ table, production, wearer }: { table: Table; production: Production; wearer: number }) {
  const blocks = useBlocks();
  const [name, setName] = useKept("begin block", "tabard");
  const [settings, setSettings] = useKept<Record<string, number>>("begin settings", {});
  const block = blocks.data?.find((b) => b.name === name);
  const who = production.cast.find((w) => w.id === wearer);
  return (
    <section aria-label={TEXT.begin}>
      <Choice
        word={TEXT.block}
        value={name}
        onChoose={(v) => {
          setName(v);
          setSettings({});
        }}
      >
        {blocks.data?.map((b) => (
          <option key={b.name} value={b.name}>
            {b.label}
          </option>
        ))}
      </Choice>
      <div className="mt-1.5 grid grid-cols-2 gap-x-2 gap-y-1">
        {block?.settings.map((s) => (
          <NumberField
            key={`${name}-${s.name}`}
            label={s.label}
            unit="cm"
            value={100 * (settings[s.name] ?? s.usual)}
            onCommit={(v) => setSettings({ ...settings, [s.name]: Math.min(s.most, Math.max(s.least, v / 100)) })}
          />
        ))}
      </div>
      <div className="mt-2 flex flex-wrap gap-1.5">
        <Button
          look="primary"
          disabled={table.begin.isPending || !block}
          onClick={() =>
            table.begin.mutate(
              { name: block?.label ?? name, wearer, block: name, settings },
              { onSuccess: (made) => table.open(made.id) },
            )
          }
        >
          {TEXT.draftFor(who?.name ?? "")}
        </Button>
        <Button
          look="quiet"
          onClick={() =>
            table.begin.mutate(
              { name: TEXT.panels, wearer, block: "", settings: {} },
              { onSuccess: (made) => table.open(made.id) },
            )
          }
        >
          {TEXT.emptyTable}
        </Button>
        <FileButton
          label={TEXT.panelsFromADrawing}
          accept=".svg,.dxf"
          onFiles={(files) =>
            table.read.mutate({ files, wearer }, { onSuccess: (made) => table.open(made.at(-1)?.id ?? null) })
          }
        >
          <FileUp size={13} /> {TEXT.svgDxf}
        </FileButton>
      </div>
    </section>
  );
}
