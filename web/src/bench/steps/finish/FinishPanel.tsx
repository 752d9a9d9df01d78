import { useState } from "react";
import type { Piece, Recipe } from "../../../api/client";
import { PARTS } from "../../../recipe/recipe";
import { Check } from "../../../ui/Check";
import { Slider } from "../../../ui/controls";
import { Choice } from "../../../ui/Select";
import { Fact } from "../../Fact";
import { TEXT } from "./texts";

type Finish = NonNullable<Recipe["finish"]>;
type Part = (typeof PARTS)[number];

interface Props {
  piece: Piece;
  /** A change is under way: another now would not know of it. */
  busy: boolean;
  onKeep(finish: Finish, label: string): void;
}

const NONE: Finish = { weld: 0, smooth: 0, finer: 0, thick: 0, side: "out", hem: 0, sharp: 0, off: [] };
const PART: Record<Part, { words: string; label: string; begins: number; least: number; most: number; step: number }> =
  {
    weld: {
      words: TEXT.weldBordersThatLie,
      label: TEXT.nearerThan,
      begins: 0.0005,
      least: 0.0001,
      most: 0.005,
      step: 0.0001,
    },
    smooth: { words: TEXT.evenTheClothOut, label: TEXT.by, begins: 0.3, least: 0.05, most: 1, step: 0.05 },
    finer: { words: TEXT.finerFacesOnA, label: TEXT.faces, begins: 1, least: 1, most: 2, step: 1 },
    thick: { words: TEXT.giveItThickness, label: TEXT.thick, begins: 0.002, least: 0.0005, most: 0.012, step: 0.0005 },
    sharp: {
      words: TEXT.foldSharplyOverHard,
      label: TEXT.edges,
      begins: 0.7,
      least: 0.17,
      most: 1.57,
      step: 0.0873,
    },
  };

const SAID: Record<Part, (x: number) => string> = {
  weld: (x) => `${(x * 1000).toFixed(1)} mm`,
  smooth: (x) => `${Math.round(x * 100)} %`,
  finer: (x) => `× ${4 ** x}`,
  thick: (x) => `${(x * 1000).toFixed(1)} mm`,
  sharp: (x) => TEXT.from(Math.round((x * 180) / Math.PI)),
};

/** What is done to the cloth last, for the picture and the pack: each part can be switched off and on; the steps never see it. */
export function FinishPanel({ piece, busy, onKeep }: Props) {
  const kept: Finish = piece.recipe.finish ?? NONE;
  const off = kept.off ?? [];
  const report = piece.report.finish;
  const keep = (to: Partial<Finish>, label: string) => onKeep({ ...kept, ...to }, label);
  const turn = (part: Part, on: boolean) =>
    keep(
      on ? { [part]: kept[part] || PART[part].begins, off: off.filter((o) => o !== part) } : { off: [...off, part] },
      on ? TEXT.finish(PART[part].words) : TEXT.finishDoNot(PART[part].words),
    );
  return (
    <fieldset disabled={busy} aria-label={TEXT.finish2}>
      <p className="text-soft">{TEXT.doneLastForThe}</p>
      {PARTS.map((part) => {
        const does = !!kept[part] && !off.includes(part);
        return (
          <div key={part} className="mt-1.5">
            <Check checked={does} onChange={(on) => turn(part, on)}>
              {PART[part].words}
            </Check>
            {does && (
              <div className="pl-5">
                <Amount
                  part={part}
                  value={kept[part] ?? 0}
                  onKeep={(x) => keep({ [part]: x }, TEXT.finish(PART[part].words))}
                />
                {part === "thick" && <Thickness kept={kept} onKeep={keep} />}
              </div>
            )}
          </div>
        );
      })}
      {report && (
        <dl className="mt-2 border-t border-dashed border-rule pt-1.5">
          <Fact name={TEXT.vertices}>{report.vertices.toLocaleString("en")}</Fact>
          <Fact name={TEXT.faces}>{report.triangles.toLocaleString("en")}</Fact>
          {report.welded > 0 && <Fact name={TEXT.verticesWeldedAway}>{report.welded.toLocaleString("en")}</Fact>}
          {report.moved > 0.00005 && (
            <Fact name={TEXT.movesTheClothAt}>{TEXT.mm((report.moved * 1000).toFixed(1))}</Fact>
          )}
        </dl>
      )}
    </fieldset>
  );
}

/** How much of one part, kept when the hand lets go. */
function Amount({ part, value, onKeep }: { part: Part; value: number; onKeep(x: number): void }) {
  const [now, setNow] = useState<number | null>(null);
  const { label, least, most, step } = PART[part];
  return (
    <Slider
      label={label}
      min={least}
      max={most}
      step={step}
      value={now ?? value}
      shown={SAID[part](now ?? value)}
      onChange={setNow}
      onCommit={(x) => {
        setNow(null);
        if (x !== value) onKeep(x);
      }}
    />
  );
}

function Thickness({ kept, onKeep }: { kept: Finish; onKeep(to: Partial<Finish>, label: string): void }) {
  const [hem, setHem] = useState<number | null>(null);
  return (
    <>
      <Choice
        word={TEXT.grows}
        value={kept.side ?? "out"}
        onChoose={(v) => onKeep({ side: v as "out" | "in" }, TEXT.finishThicknessWards(v))}
      >
        <option value="out">{TEXT.outwardsItsInsideStays}</option>
        <option value="in">{TEXT.inwardsItsOutsideStays}</option>
      </Choice>
      <Slider
        label={TEXT.hem}
        min={0}
        max={0.05}
        step={0.0025}
        value={hem ?? kept.hem ?? 0}
        shown={(hem ?? kept.hem) ? `${((hem ?? kept.hem ?? 0) * 100).toFixed(1)} cm` : "none"}
        onChange={setHem}
        onCommit={(x) => {
          setHem(null);
          onKeep({ hem: x }, TEXT.finishTheHem);
        }}
      />
    </>
  );
}
