import { ArrowLeft, Lasso, MousePointerClick, Redo2, Shirt, Undo2 } from "lucide-react";
import { useState } from "react";
import { type Choose, useApart, useChoosing, useDividing, useDressedMesh } from "../../api/apart";
import { useProduction } from "../../api/production/production";
import { useRoom } from "../../store/room";
import { Check } from "../../ui/Check";
import { Button, Hint } from "../../ui/controls";
import { Select } from "../../ui/Select";
import { DressedStage, type Tool } from "./DressedStage";
import { JointRoles } from "./JointRoles";
import { PartList } from "./PartList";
import { TEXT } from "./texts";

const TOOLS: [Tool, string, string][] = [
  ["run", TEXT.run, TEXT.clickTheConnectedRun],
  ["material", TEXT.material, TEXT.clickEverythingOfThat],
  ["part", TEXT.part, TEXT.clickTheWholePart],
  ["lasso", TEXT.lasso, TEXT.drawRoundTheFaces],
];
const NONE = new Set<number>();

/** Taking a dressed body apart: parts proposed in colours, divided by hand, and taken out as a wearer and its pieces. */
export function ApartPage({ apart }: { apart: number }) {
  const set = useRoom((s) => s.set);
  const page = useApart(apart);
  const mesh = useDressedMesh(apart, page.data ? `${page.data.label} ${page.data.parts.length}` : "");
  const dividing = useDividing(apart);
  const choosing = useChoosing(apart);
  const [tool, setTool] = useState<Tool>("run");
  const [through, setThrough] = useState(false);
  const [chosen, setChosen] = useState(NONE);
  const [hidden, setHidden] = useState(NONE);
  const [joints, setJoints] = useState(false);
  if (page.isError) return <p className="p-8 text-amber">{page.error.message}</p>;
  if (!page.data) return <p className="p-8 text-soft">{TEXT.openingTheDressedBody}</p>;
  const now = page.data;
  const choose = (how: Choose, more: boolean) =>
    choosing.mutate(how, { onSuccess: (faces) => setChosen(new Set(more ? [...chosen, ...faces] : faces)) });
  const ring = (way: "grow" | "shrink") =>
    choose({ way, chosen: [...chosen], outline: [], matrix: [], eye: [0, 0, 0], through: false }, false);
  const give = (part: number | null) => dividing.assign({ faces: [...chosen], part }, () => setChosen(NONE));
  return (
    <main className="grid min-h-0 grid-cols-[minmax(0,1fr)_320px]">
      <section className="relative min-h-0 overflow-hidden border-r border-rule bg-paper" aria-label={TEXT.stage}>
        {mesh.data && (
          <DressedStage
            mesh={mesh.data}
            parts={now.parts}
            chosen={chosen}
            tool={tool}
            through={through}
            hidden={hidden}
            roles={joints ? now.roles : null}
            onChoose={choose}
          />
        )}
        <header className="pointer-events-none absolute top-3 left-5 right-5 flex items-start gap-3">
          <div>
            <Button look="quiet" className="pointer-events-auto -ml-1 px-1" onClick={() => set({ apart: null })}>
              <ArrowLeft size={14} /> {TEXT.stockroom}
            </Button>
            <h1 className="font-title text-[23px] leading-tight font-semibold">{TEXT.takingApart}</h1>
            <p className="text-soft">
              {now.file_name} · {now.faces.toLocaleString("en")} {TEXT.faces2} {(now.height * 100).toFixed(0)}{" "}
              {TEXT.cmHigh}
              {now.morphs.length > 0 && TEXT.morphs(now.morphs.length)}
              {now.joints.length > 0 && TEXT.joints2(now.joints.length)}
            </p>
          </div>
          <div className="pointer-events-auto ml-auto flex items-center gap-2">
            <div className="flex overflow-hidden rounded-[3px] border border-rule bg-card">
              {TOOLS.map(([id, label, hint]) => (
                <Hint key={id} text={hint}>
                  <button
                    type="button"
                    aria-pressed={tool === id}
                    onClick={() => setTool(id)}
                    className="flex cursor-pointer items-center gap-1 border-r border-rule px-2.5 py-1.5 leading-none text-soft last:border-0 hover:text-ink aria-pressed:bg-ink aria-pressed:text-paper"
                  >
                    {id === "lasso" ? <Lasso size={13} /> : <MousePointerClick size={13} />} {label}
                  </button>
                </Hint>
              ))}
            </div>
            <Hint text={now.can_undo ? TEXT.undo(now.label) : TEXT.nothingToUndo}>
              <Button
                look="quiet"
                className="px-1.5"
                aria-label={TEXT.undo2}
                disabled={!now.can_undo}
                onClick={dividing.undo}
              >
                <Undo2 size={15} />
              </Button>
            </Hint>
            <Button
              look="quiet"
              className="px-1.5"
              aria-label={TEXT.redo}
              disabled={!now.can_redo}
              onClick={dividing.redo}
            >
              <Redo2 size={15} />
            </Button>
          </div>
        </header>
        {chosen.size > 0 ? (
          <div
            role="toolbar"
            aria-label={TEXT.chosenFaces}
            className="absolute bottom-4 left-5 flex items-center gap-2 rounded-[4px] border border-rule bg-card/95 px-3 py-2"
          >
            <span className="text-soft">{TEXT.faces3(chosen.size.toLocaleString("en"))}</span>
            <Button onClick={() => ring("grow")}>{TEXT.grow}</Button>
            <Button onClick={() => ring("shrink")}>{TEXT.shrink}</Button>
            <Select
              label={TEXT.giveTheChosenFaces}
              className="text-[13px]"
              value=""
              onChoose={(v) => give(v === "new" ? null : Number(v))}
            >
              <option value="" disabled>
                {TEXT.giveTo}
              </option>
              {now.parts.map((p, k) => (
                <option key={p.name} value={k}>
                  {p.name}
                </option>
              ))}
              <option value="new">{TEXT.aNewPart}</option>
            </Select>
            <Button look="quiet" onClick={() => setChosen(NONE)}>
              {TEXT.letGo}
            </Button>
          </div>
        ) : (
          <p className="pointer-events-none absolute bottom-4 left-5 text-soft">{TEXT.clickOrDrawRound}</p>
        )}
        {tool === "lasso" && (
          <Check className="absolute right-5 bottom-4 text-soft" checked={through} onChange={(on) => setThrough(on)}>
            {TEXT.throughToTheBack}
          </Check>
        )}
      </section>
      <aside className="flex min-h-0 flex-col overflow-y-auto bg-card px-5 py-4">
        <PartList
          parts={now.parts}
          hidden={hidden}
          onHide={(part) =>
            setHidden(new Set(hidden.has(part) ? [...hidden].filter((p) => p !== part) : [...hidden, part]))
          }
          onChange={dividing.change}
          onMerge={dividing.merge}
        />
        <JointRoles apart={now} open={joints} onOpen={setJoints} onKeep={dividing.roles} />
        <div className="mt-4 border-t border-rule pt-3">
          <Button
            look="primary"
            className="w-full"
            disabled={dividing.busy || now.state === "taking"}
            onClick={dividing.take}
          >
            <Shirt size={14} /> {now.state === "taking" ? TEXT.takingApart2 : TEXT.takeOutBodyAnd}
          </Button>
          <Outcome state={now.state} outcome={now.outcome} />
        </div>
      </aside>
    </main>
  );
}

function Outcome({ state, outcome }: { state: string; outcome: string | null }) {
  const set = useRoom((s) => s.set);
  const { data: production } = useProduction();
  const wearer = production?.cast.filter((w) => w.body).reduce((last, w) => Math.max(last, w.id), 0);
  if (state === "failed") return <p className="mt-2 text-amber">{outcome}</p>;
  if (state === "taken")
    return (
      <p className="mt-2 text-moss">
        {TEXT.takenOut} {outcome}.{" "}
        <button
          type="button"
          className="cursor-pointer underline"
          onClick={() => set({ place: "fitting", ...(wearer && { wearer }) })}
        >
          {TEXT.toTheFittingRoom}
        </button>
      </p>
    );
  return <p className="mt-2 text-[12px] text-soft">{TEXT.theBodyJoinsThe}</p>;
}
