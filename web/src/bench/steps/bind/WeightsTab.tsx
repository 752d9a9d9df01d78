import { useState } from "react";
import { useBindJoints } from "../../../api/binding";
import { item } from "../../../recipe/at";
import { fresh, type StepOf, stepOf } from "../../../recipe/recipe";
import { Check } from "../../../ui/Check";
import { Button, Hint, Slider } from "../../../ui/controls";
import { Select } from "../../../ui/Select";
import { BindFacts } from "./BindFacts";
import type { BindProps } from "./BindPanel";
import { JointSelect } from "./JointSelect";
import { TEXT } from "./texts";

const WORN = [
  ["auto", TEXT.asItsCategorySays],
  ["cloth", TEXT.asCloth],
  ["head", TEXT.onTheHeadAlone],
  ["sole", TEXT.asFootwearTheSole],
  ["belt", TEXT.asABeltWith],
] as const;

/** Where the weights come from. */
export function WeightsTab({ piece, under, onKeep }: BindProps) {
  const kept = stepOf(piece.recipe, "bind");
  const report = piece.report.bind;
  const now = kept ?? fresh("bind");
  const change = (to: Partial<StepOf<"bind">>, label: string) => onKeep({ ...now, ...to, kind: "bind" }, label);
  const source = now.source ?? "body";
  if (!kept)
    return (
      <div>
        <p className="text-soft">{TEXT.clothTakesItsWeights}</p>
        <Button
          className="mt-2"
          disabled={piece.status === "waiting"}
          onClick={() => change({ source: "joint", joint: "l_radiocarpal" }, TEXT.carryByAJoint)}
        >
          {TEXT.carryItByA}
        </Button>
      </div>
    );
  const loose = (now.reach ?? 0.1) > 0.05;
  return (
    <div>
      <fieldset className="flex flex-col gap-1" disabled={!kept}>
        {!!piece.report.receive?.joints && (
          <Choice
            name="source"
            checked={source === "own"}
            hint={TEXT.asTheyCameFrom(piece.report.receive.joints)}
            onPick={() => change({ source: "own" }, TEXT.bindWithItsOwn)}
          >
            {TEXT.itsOwnWeights}
          </Choice>
        )}
        <Choice
          name="source"
          checked={source === "body" && loose}
          hint={TEXT.takesFromWhatLies}
          onPick={() => change({ source: "body", reach: 0.1 }, TEXT.bindAsALoose)}
        >
          {TEXT.loosePiece}
        </Choice>
        <Choice
          name="source"
          checked={source === "body" && !loose}
          hint={TEXT.takesFromWhatLiesWithin}
          onPick={() => change({ source: "body", reach: 0.03 }, TEXT.bindAsAFitted)}
        >
          {TEXT.fittedPiece}
        </Choice>
        <Choice
          name="source"
          checked={source === "joint"}
          hint={TEXT.rigidOrSwingingOn}
          onPick={() => change({ source: "joint", joint: now.joint || "l_radiocarpal" }, TEXT.carryByAJoint)}
        >
          {TEXT.carriedBy}
        </Choice>
      </fieldset>
      {source === "joint" && <Carried step={now} piece={piece} onChange={change} />}
      {source === "body" && kept && (
        <div className="mt-2 border-t border-dashed border-rule pt-2">
          <label className="flex items-baseline gap-2">
            <span className="text-soft">{TEXT.worn}</span>
            <Select
              label={TEXT.worn}
              className="min-w-0 flex-1"
              value={now.worn_as ?? "auto"}
              onChoose={(v) => change({ worn_as: v as StepOf<"bind">["worn_as"] }, TEXT.bind(v))}
            >
              {WORN.map(([value, label]) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </Select>
          </label>
          <div className="mt-1.5 flex flex-wrap gap-x-4 gap-y-1">
            {under.length > 0 && (
              <Check
                checked={!!now.over?.length}
                onChange={(on) =>
                  change(
                    { over: on ? under.map((u) => u.geometry) : [] },
                    on ? TEXT.bindToWhatLies : TEXT.bindToTheSkin,
                  )
                }
              >
                {TEXT.andFrom(under.length === 1 ? item(under, 0).name.toLowerCase() : TEXT.thePiecesUnderIt)}
              </Check>
            )}
            <Check
              checked={now.most === 8}
              onChange={(on) => change({ most: on ? 8 : 4 }, on ? TEXT.eightJointsAVertex : TEXT.fourJointsAVertex)}
            >
              {TEXT.eightJointsAVertex2}
            </Check>
            <Hint text={TEXT.weightsAreSolvedAnew}>
              <span>
                <Check
                  checked={now.even !== false}
                  onChange={(on) => change({ even: on }, on ? TEXT.stretchEvenedOut : TEXT.stretchLeftAsTaken)}
                >
                  {TEXT.stretchEvenedOut2}
                </Check>
              </span>
            </Hint>
            <Hint text={TEXT.whateverSkinIsNearest}>
              <span>
                <Check
                  checked={now.how === "nearest"}
                  onChange={(on) =>
                    change({ how: on ? "nearest" : "solve" }, on ? TEXT.nearestSkinAlone : TEXT.acceptAndSolve)
                  }
                >
                  {TEXT.nearestSkinAlone2}
                </Check>
              </span>
            </Hint>
          </div>
          {!!report?.hangs && <Legs step={now} onChange={change} />}
        </div>
      )}
      {report && <BindFacts report={report} />}
      {report && report.parts.length > 1 && source === "body" && <Parts piece={piece} step={now} onChange={change} />}
    </div>
  );
}

interface PartProps {
  step: StepOf<"bind">;
  onChange(to: Partial<StepOf<"bind">>, label: string): void;
}

function Legs({ step, onChange }: PartProps) {
  const [width, setWidth] = useState(step.width ?? 0.1);
  const on = step.legs !== "off";
  return (
    <div className="mt-1.5">
      <Check
        checked={on}
        onChange={(v) => onChange({ legs: v ? "auto" : "off" }, v ? TEXT.legsShareTheCloth : TEXT.legsDoNotShare)}
      >
        {TEXT.eachLegCarriesIts}
      </Check>
      {on && (
        <Slider
          label={TEXT.sharedOver}
          min={0}
          max={1}
          step={0.05}
          value={width}
          shown={width === 0 ? TEXT.betweenTheLegs : width === 1 ? TEXT.allRound : `${Math.round(width * 100)} %`}
          ends={["legs keep clear", "cloth stretches less"]}
          onChange={setWidth}
          onCommit={(v) => onChange({ width: v }, TEXT.shareBetweenTheLegs)}
        />
      )}
    </div>
  );
}

function Carried({ step, piece, onChange }: PartProps & { piece: BindProps["piece"] }) {
  const joints = useBindJoints(piece);
  const spring = step.spring;
  const [draft, setDraft] = useState(spring);
  const now = draft ?? spring;
  const rows = [
    ["stiffness", TEXT.pulledBack, 0, 200, 1, "1/s²"],
    ["damping", TEXT.slowed, 0, 30, 0.5, "1/s"],
    ["gravity", TEXT.gravity, 0, 2, 0.1, "×"],
  ] as const;
  return (
    <div className="mt-2 border-t border-dashed border-rule pt-2">
      <JointSelect
        label={TEXT.joint}
        joints={joints.data ?? []}
        value={step.joint ?? ""}
        onChange={(joint) => onChange({ joint }, TEXT.carriedBy2(joint))}
      />
      <div className="mt-1.5 flex items-center gap-3">
        <Check
          checked={!!spring}
          onChange={(on) =>
            onChange(
              { spring: on ? { links: 1, stiffness: 4, damping: 2, gravity: 1, limit: 1.4 } : null },
              on ? TEXT.hangOnASpring : TEXT.carryFirmly,
            )
          }
        >
          {TEXT.swingsOnASpring}
        </Check>
        {spring && (
          <label className="ml-auto flex items-center gap-1 text-soft">
            {TEXT.links}
            <Select
              label={TEXT.linksOfTheChain}
              value={spring.links ?? 1}
              onChoose={(v) => onChange({ spring: { ...spring, links: Number(v) } }, TEXT.linksOfTheChain)}
            >
              {[1, 2, 3, 4, 5, 6].map((n) => (
                <option key={n}>{n}</option>
              ))}
            </Select>
          </label>
        )}
      </div>
      {spring &&
        now &&
        rows.map(([key, label, min, max, by, unit]) => (
          <Slider
            key={key}
            label={label}
            min={min}
            max={max}
            step={by}
            value={now[key] ?? 0}
            shown={`${(now[key] ?? 0).toFixed(by < 1 ? 1 : 0)} ${unit}`}
            onChange={(v) => setDraft({ ...now, [key]: v })}
            onCommit={(v) => onChange({ spring: { ...now, [key]: v } }, TEXT.spring(label.toLowerCase()))}
          />
        ))}
    </div>
  );
}

function Parts({ piece, step, onChange }: PartProps & { piece: BindProps["piece"] }) {
  const parts = piece.report.bind?.parts ?? [];
  const toggle = (vertex: number, rigid: boolean) => {
    const without = (list: readonly number[] | undefined) => (list ?? []).filter((v) => v !== vertex);
    onChange(
      rigid
        ? { rigid: [...without(step.rigid), vertex], cloth: without(step.cloth) }
        : { cloth: [...without(step.cloth), vertex], rigid: without(step.rigid) },
      rigid ? TEXT.aPartKeepsIts : TEXT.aPartBendsWith,
    );
  };
  return (
    <div className="mt-2 border-t border-dashed border-rule pt-1.5">
      <div className="flex items-baseline">
        <span className="font-semibold">{TEXT.parts}</span>
        <span className="ml-auto text-[11.5px] text-soft">{TEXT.tickedOnesKeepTheir}</span>
      </div>
      <ul className="max-h-32 overflow-y-auto">
        {parts.map((part) => (
          <li key={part.vertex} className="flex items-center gap-2">
            <Check checked={part.rigid} onChange={(on) => toggle(part.vertex, on)}>
              <span className="first-letter:uppercase">{part.name}</span>
            </Check>
            <span className="ml-auto truncate text-[11.5px] text-soft">
              {(part.size_mm / 10).toFixed(1)} {TEXT.cm}
              {part.joint && ` · ${part.joint}`}
            </span>
          </li>
        ))}
      </ul>
      {parts.some((p) => p.rigid) && (
        <Check
          checked={!!step.alone}
          onChange={(on) => onChange({ alone: on }, on ? TEXT.partsRideOneJoint : TEXT.partsRideTheBlend)}
        >
          {TEXT.rideOneJointAlone}
        </Check>
      )}
    </div>
  );
}

function Choice(props: { name: string; checked: boolean; hint: string; onPick(): void; children: string }) {
  return (
    <label className="flex items-baseline gap-2">
      <input type="radio" name={props.name} checked={props.checked} onChange={props.onPick} />
      <span>
        {props.children} <span className="text-[11.5px] text-soft">{props.hint}</span>
      </span>
    </label>
  );
}
