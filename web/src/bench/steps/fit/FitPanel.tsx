import { invalidate } from "@react-three/fiber";
import { useEffect, useRef, useState } from "react";
import { fetchFitPreview, useLandmarks, useParts } from "../../../api/work";
import { easeFor, fresh, type StepOf, stepOf } from "../../../recipe/recipe";
import { type PieceMesh, showPoints } from "../../../stage/mesh/piece";
import { useKept } from "../../../store/kept";
import { useRoomOf } from "../../../store/room";
import { Check } from "../../../ui/Check";
import { Button, Slider } from "../../../ui/controls";
import { Select } from "../../../ui/Select";
import { Fact } from "../../Fact";
import type { StepProps } from "../../step";
import { TEXT } from "./texts";

type Fit = StepOf<"fit">;

interface Props extends Pick<StepProps, "piece" | "onKeep" | "mesh" | "under" | "production"> {
  wearer: number | undefined;
}

/** How the piece comes to the body; the sliders show their work on the stage before they keep it. */
export function FitPanel({ piece, onKeep, mesh, wearer, under, production }: Props) {
  const kept = stepOf(piece.recipe, "fit");
  const ease = easeFor(piece.category, production.settings);
  const [step, setStep] = useState(kept ?? { ...fresh("fit"), ease });
  useEffect(() => setStep(kept ?? { ...fresh("fit"), ease }), [kept, ease]); // an undo takes it back
  const report = piece.report.fit;
  const show = usePreview(piece.id, mesh, !!kept);
  const keep = (change: Partial<Fit>, label?: string) => {
    const now = { ...step, ...change, kind: "fit" as const };
    setStep(now);
    onKeep(now, label ?? TEXT.fitToMm(((now.ease ?? ease) * 1000).toFixed(0)));
  };
  const slide = (change: Partial<Fit>) => {
    const now = { ...step, ...change, kind: "fit" as const };
    setStep(now);
    show(now);
  };
  const madeFor = stepOf(piece.recipe, "receive")?.made_for;
  const clings = 1 - (step.keep ?? 0.9);
  return (
    <div>
      <Slider
        label={TEXT.ease}
        min={0}
        max={30}
        step={0.5}
        value={(step.ease ?? ease) * 1000}
        shown={`${((step.ease ?? ease) * 1000).toFixed(1)} mm`}
        onChange={(v) => slide({ ease: v / 1000 })}
        onCommit={(v) => keep({ ease: v / 1000 })}
      />
      <Slider
        label={TEXT.keepOrCling}
        min={0}
        max={1}
        step={0.05}
        value={clings}
        shown={`${Math.round(clings * 100)} %`}
        ends={["keeps its own shape", "clings to the body"]}
        onChange={(v) => slide({ keep: 1 - v })}
        onCommit={(v) => keep({ keep: 1 - v })}
      />
      <Check className="mt-1" checked={step.align ?? true} onChange={(on) => keep({ align: on })}>
        {TEXT.findItsPlaceOn}
      </Check>
      {madeFor && (
        <Check className="mt-1" checked={step.ride ?? true} onChange={(on) => keep({ ride: on })}>
          {TEXT.bringItOverFrom(madeFor.name)}
        </Check>
      )}
      <Check
        className="mt-1"
        checked={step.stiff === "all"}
        onChange={(on) => keep({ stiff: on ? "all" : "auto" }, on ? TEXT.keepItsForm : TEXT.letItBend)}
      >
        {TEXT.allOfItKeeps}
      </Check>
      {under.length > 0 && (
        <Check
          className="mt-1"
          checked={!!step.over?.length}
          onChange={(on) =>
            keep({ over: on ? under.map((u) => u.geometry) : [] }, on ? TEXT.restOnWhatIs : TEXT.restOnTheSkin)
          }
        >
          {TEXT.restsOnToo(under.map((u) => u.name.toLowerCase()).join(" and "))}
        </Check>
      )}
      <Pins piece={piece} onKeep={onKeep} step={step} wearer={wearer} keep={keep} />
      <Paint step={step} keep={keep} />
      <StiffParts piece={piece} onKeep={onKeep} step={step} keep={keep} />
      {report && (
        <>
          {report.said.map((text) => (
            <p key={text} role="alert" className="mt-2 rounded-[3px] border border-amber bg-amber-pale/50 px-2 py-1.5">
              {text}
            </p>
          ))}
          {report.hint && <p className="mt-1.5 text-[11.5px] text-soft">{report.hint}</p>}
          <dl className="mt-2 border-t border-dashed border-rule pt-1.5">
            <Fact name={TEXT.belowTheEase}>{TEXT.ofVertices(report.below_ease, report.judged)}</Fact>
            {report.at_ease !== null && (
              <Fact name={TEXT.within1MmOf}>{TEXT.ofWhatRests(((report.at_ease ?? 0) * 100).toFixed(1))}</Fact>
            )}
            <Fact name={TEXT.sureOfItsPlace}>{(report.confidence * 100).toFixed(0)} %</Fact>
            {Math.abs(report.size - 1) > 0.005 && <Fact name={TEXT.sizedBy}>× {report.size.toFixed(3)}</Fact>}
            <Fact name={TEXT.edgesChanged}>{TEXT.spread((report.edge_log_spread * 100).toFixed(1))}</Fact>
          </dl>
          {report.trouble.length > 0 && (
            <div className="mt-1.5">
              <p className="text-soft">{TEXT.couldNotBeFitted}</p>
              <ul>
                {report.trouble.slice(0, 4).map((t) => (
                  <li key={t.name} className="flex justify-between">
                    <span className="first-letter:uppercase">{t.name}</span>
                    <span className="text-soft">{TEXT.verticesMmOff(t.vertices, (t.worst * 1000).toFixed(1))}</span>
                  </li>
                ))}
              </ul>
            </div>
          )}
        </>
      )}
    </div>
  );
}

/** Shows a fit on the stage as its sliders move, at most one request on its way. */
function usePreview(piece: number, mesh: PieceMesh | undefined, enabled: boolean) {
  const pending = useRef<{ abort: AbortController; next: Fit | null } | null>(null);
  useEffect(() => () => pending.current?.abort.abort(), []);
  return function show(step: Fit): void {
    if (!mesh || !enabled) return;
    if (pending.current) {
      pending.current.next = step;
      return;
    }
    const mine = { abort: new AbortController(), next: null as Fit | null };
    pending.current = mine;
    fetchFitPreview(piece, step, mine.abort.signal)
      .then((points) => {
        if (points.length === mesh.source.points.length) showPoints(mesh, points);
        invalidate();
      })
      .catch(() => {})
      .finally(() => {
        pending.current = null;
        if (mine.next) show(mine.next);
      });
  };
}

interface PartProps extends Pick<StepProps, "piece" | "onKeep"> {
  step: Fit;
  keep(change: Partial<Fit>, label?: string): void;
}

/** Points of the piece said to lie at landmarks: where nothing is known of its source, three or more tell its place. */
function Pins({ step, keep, wearer }: PartProps & { wearer: number | undefined }) {
  const { set, picking } = useRoomOf("set", "picking");
  const landmarks = useLandmarks(wearer, true);
  const [landmark, setLandmark] = useKept("fit landmark", TEXT.leftShoulder);
  const pins = step.pins ?? {};
  const pick = () =>
    set({
      step: "fit",
      picking: {
        kind: "pin",
        landmark,
        done: ({ points: [point] }) => point && keep({ pins: { ...pins, [landmark]: point } }, TEXT.pinToThe(landmark)),
      },
    });
  return (
    <details className="mt-1.5" open={Object.keys(pins).length > 0 || undefined}>
      <summary className="cursor-pointer text-soft">
        {TEXT.pins} {Object.keys(pins).length > 0 && `(${Object.keys(pins).length})`}
      </summary>
      <div className="mt-1 flex items-center gap-1.5">
        <Select
          label={TEXT.landmarkToPinTo}
          className="min-w-0 flex-1"
          value={landmark}
          onChoose={(v) => setLandmark(v)}
        >
          {landmarks.data?.map((l) => (
            <option key={l.name}>{l.name}</option>
          ))}
        </Select>
        <Button aria-pressed={picking?.kind === "pin"} onClick={pick}>
          {picking?.kind === "pin" ? TEXT.clickThePiece : TEXT.pin}
        </Button>
      </div>
      {Object.keys(pins).map((name) => (
        <button
          key={name}
          type="button"
          className="mt-1 mr-1 cursor-pointer rounded-[3px] border border-rule px-1.5 text-[12px] hover:border-heron"
          title={TEXT.takeThisPinOut}
          onClick={() => {
            const { [name]: _, ...rest } = pins;
            keep({ pins: rest }, TEXT.unpinThe(name));
          }}
        >
          {name} ×
        </button>
      ))}
    </details>
  );
}

/** More or less ease where the artist strokes. */
function Paint({ step, keep }: Pick<PartProps, "step" | "keep">) {
  const { set, picking, hand } = useRoomOf("set", "picking", "hand");
  const [by, setBy] = useKept("fit ease by", 6);
  const stroke = () =>
    set({
      picking: {
        kind: "ease",
        done: ({ rows }) => {
          const every = rows.filter((_, i) => i % 4 === 0);
          const dabs = every.map((at) => ({ at, radius: hand.radius, value: by / 1000 / Math.sqrt(every.length) }));
          keep({ paint: [...(step.paint ?? []), ...dabs] }, TEXT.paintEase);
        },
      },
    });
  return (
    <details className="mt-1" open={(step.paint?.length ?? 0) > 0 || undefined}>
      <summary className="cursor-pointer text-soft">{TEXT.paintedEase}</summary>
      <Slider
        label={TEXT.moreOrLessHere}
        min={-10}
        max={20}
        step={1}
        value={by}
        shown={`${by > 0 ? "+" : ""}${by} mm`}
        onChange={setBy}
      />
      <div className="flex gap-1.5">
        <Button aria-pressed={picking?.kind === "ease"} onClick={stroke}>
          {picking?.kind === "ease" ? TEXT.strokeThePiece : TEXT.stroke}
        </Button>
        {!!step.paint?.length && (
          <Button look="quiet" onClick={() => keep({ paint: [] }, TEXT.evenEase)}>
            {TEXT.evenEaseAgain}
          </Button>
        )}
      </div>
    </details>
  );
}

/** Which loose parts keep their form while the cloth bends. */
function StiffParts({ piece, step, keep }: PartProps) {
  const parts = useParts(piece);
  const loose = parts.data?.slice(1) ?? [];
  if (!loose.length) return null;
  const rigid = (row: number, stiff: boolean) => step.rigid?.includes(row) || (stiff && !step.cloth?.includes(row));
  const turn = (row: number, on: boolean) =>
    keep(
      {
        rigid: on ? [...(step.rigid ?? []), row] : (step.rigid ?? []).filter((r) => r !== row),
        cloth: on ? (step.cloth ?? []).filter((r) => r !== row) : [...(step.cloth ?? []), row],
      },
      on ? TEXT.partKeepsItsForm : TEXT.partBends,
    );
  return (
    <details className="mt-1">
      <summary className="cursor-pointer text-soft">{TEXT.partsThatKeepTheir}</summary>
      <ul className="mt-0.5 max-h-32 overflow-y-auto">
        {loose.map((part, i) => (
          <li key={part.row}>
            <Check checked={!!rigid(part.row, part.stiff)} onChange={(on) => turn(part.row, on)}>
              <span className="truncate">
                {part.material} {i + 1}
              </span>
              <span className="ml-auto text-[11.5px] text-soft">{TEXT.cm((part.size * 100).toFixed(1))}</span>
            </Check>
          </li>
        ))}
      </ul>
    </details>
  );
}
