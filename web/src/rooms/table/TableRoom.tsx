import { Download, Move3d, PenLine, Plus, Spline, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Production } from "../../api/client";
import { toneOf } from "../../theme/palette";
import { Button } from "../../ui/controls";
import { Choice } from "../../ui/Select";
import { BeginForm } from "./BeginForm";
import { PanelFacts } from "./PanelFacts";
import { Panels } from "./panels/Panels";
import { SeamList } from "./SeamList";
import { SewnStage } from "./SewnStage";
import { SewPanel } from "./SewPanel";
import { TEXT } from "./texts";
import { useSewing } from "./useSewing";
import { useTable } from "./useTable";
import { useTableKeys } from "./useTableKeys";

const TOOLS = [
  ["shape", TEXT.shape2, Move3d],
  ["sew", TEXT.sew, Spline],
  ["line", TEXT.line, PenLine],
] as const;

/** The cutting table: flat panels on the left, the wearer they are sewn on beside them. */
export function TableRoom({ production }: { production: Production }) {
  const table = useTable();
  const { laid, tool, chosen } = table;
  const sewing = useSewing(table.number);
  const own = production.cast.filter((w) => !w.body);
  const [asked, setAsked] = useState<number | null>(null);
  const wearer = asked ?? laid?.wearer ?? own[0]?.id ?? 0;
  const panel = laid?.layout.panels.find((p) => p.name === chosen?.panel);
  useTableKeys(table);
  const madeFor = production.cast.find((w) => w.id === laid?.wearer);
  return (
    <main className="grid min-h-0 grid-cols-[270px_minmax(0,1fr)_minmax(300px,30%)]">
      <aside className="flex min-h-0 flex-col gap-2.5 overflow-y-auto border-r border-rule bg-card px-3 py-2.5">
        <h1 className="font-title text-[17px] font-semibold">{TEXT.cuttingTable}</h1>
        {table.shelf.length > 0 && (
          <Choice word={TEXT.open} value={table.number ?? ""} onChoose={(v) => table.open(Number(v))}>
            {table.shelf.map((l) => (
              <option key={l.id} value={l.id}>
                {l.name}
                {production.cast.some((w) => w.id === l.wearer) &&
                  TEXT.for(production.cast.find((w) => w.id === l.wearer)?.name ?? "")}
              </option>
            ))}
          </Choice>
        )}
        <details key={laid?.id ?? 0} open={!laid}>
          <summary className="cursor-pointer text-heron">{laid ? TEXT.beginAnother : TEXT.begin}</summary>
          <div className="mt-1.5">
            <BeginForm table={table} production={production} wearer={wearer} />
          </div>
        </details>
        {laid && (
          <>
            <section aria-label={TEXT.seams} className="border-t border-dashed border-rule pt-2">
              <h2 className="mb-0.5 text-soft">{TEXT.seams}</h2>
              <SeamList table={table} laid={laid} />
            </section>
            {panel && <PanelFacts key={panel.name} table={table} laid={laid} panel={panel} />}
            <div className="mt-auto flex flex-wrap gap-1 border-t border-dashed border-rule pt-2">
              {laid.layout.block && (
                <span className="flex w-full items-center gap-1">
                  <span className="mr-1 text-soft">{TEXT.gradeTo}</span>
                  {own
                    .filter((w) => w.id !== laid.wearer)
                    .map((w) => (
                      <Button
                        key={w.id}
                        aria-label={TEXT.gradeTo2(w.name)}
                        onClick={() => table.grade.mutate({ laid, wearer: w.id })}
                      >
                        {w.name}
                      </Button>
                    ))}
                </span>
              )}
              {(["svg", "dxf"] as const).map((ending) => (
                <a
                  key={ending}
                  href={`/api/table/layouts/${laid.id}/panels.${ending}`}
                  download
                  className="inline-flex items-center gap-1 rounded-[3px] px-2 py-1.5 text-[13px] leading-none text-soft hover:text-ink"
                >
                  <Download size={13} /> {ending.toUpperCase()}
                </a>
              ))}
              <Button look="quiet" onClick={() => table.drop.mutate(laid)}>
                <Trash2 size={13} /> {TEXT.clearTheTable}
              </Button>
            </div>
          </>
        )}
      </aside>
      <section aria-label={TEXT.table} className="relative min-h-0 overflow-hidden border-r border-rule bg-paper">
        {laid ? (
          <>
            <Panels
              key={laid.id}
              laid={laid}
              tool={tool}
              chosen={chosen}
              first={table.first}
              lit={table.lit}
              sketch={table.sketch}
              onSketch={table.sketchTo}
              onSketched={table.endSketch}
              onChoose={table.setChosen}
              onSide={table.sew}
              onSplit={(name, edge, share) =>
                table.work.mutate({ laid, do: "split", panel: name, edge, share, wide: 0.03, deep: 0.1 })
              }
              onChange={table.keep}
            />
            <div className="absolute top-2.5 left-3 flex items-center gap-1">
              {TOOLS.map(([name, label, Icon]) => (
                <Button
                  key={name}
                  aria-pressed={tool === name}
                  className={tool === name ? "border-heron font-semibold" : ""}
                  onClick={() => table.setTool(name)}
                >
                  <Icon size={13} /> {label}
                </Button>
              ))}
              <Button onClick={table.addPanel}>
                <Plus size={13} /> {TEXT.panel2}
              </Button>
              <span className="ml-2 rounded-[3px] bg-paper/80 px-1 text-soft">
                {tool === "sew"
                  ? table.first
                    ? TEXT.nowTheEdgeThat(table.first.panel, table.first.edge + 1)
                    : TEXT.clickTheTwoEdges
                  : tool === "line"
                    ? table.sketch
                      ? TEXT.clickOnEnterOr
                      : TEXT.clickInsideAPanel
                    : madeFor && TEXT.draftedFor(madeFor.name)}
              </span>
            </div>
          </>
        ) : (
          !table.waiting && (
            <div className="grid h-full place-items-center">
              <p className="max-w-72 text-center text-soft">{TEXT.theTableIsEmpty}</p>
            </div>
          )
        )}
      </section>
      <section aria-label={TEXT.besideTheTable} className="grid min-h-0 grid-rows-[minmax(0,1fr)_auto]">
        <div className="relative min-h-0">
          {laid ? <SewnStage sewing={sewing} colour={toneOf("toile")} /> : <EmptyStage />}
        </div>
        {laid && (
          <SewPanel laid={laid} production={production} sewing={sewing} wearer={wearer} onWearer={(w) => setAsked(w)} />
        )}
      </section>
    </main>
  );
}

function EmptyStage() {
  return (
    <div className="grid h-full place-items-center bg-chalk/40">
      <p className="max-w-52 text-center text-soft">{TEXT.theWearerStandsHere}</p>
    </div>
  );
}
