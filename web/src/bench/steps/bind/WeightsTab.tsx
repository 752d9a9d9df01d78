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

const WORN = [
  ["auto", "as its category says"],
  ["cloth", "as cloth"],
  ["head", "on the head alone"],
  ["sole", "as footwear, the sole whole"],
  ["belt", "as a belt, with the pelvis"],
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
        <p className="text-soft">
          Cloth takes its weights from what lies under it. A rigid thing (a lantern, a loupe) is carried whole by one
          joint, with no need to fit it first.
        </p>
        <Button
          className="mt-2"
          disabled={piece.status === "waiting"}
          onClick={() => change({ source: "joint", joint: "l_radiocarpal" }, "Carry by a joint")}
        >
          Carry it by a joint
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
            hint={`as they came, from ${piece.report.receive.joints} joints`}
            onPick={() => change({ source: "own" }, "Bind with its own weights")}
          >
            Its own weights
          </Choice>
        )}
        <Choice
          name="source"
          checked={source === "body" && loose}
          hint="takes from what lies within 10 cm"
          onPick={() => change({ source: "body", reach: 0.1 }, "Bind as a loose piece")}
        >
          Loose piece
        </Choice>
        <Choice
          name="source"
          checked={source === "body" && !loose}
          hint="takes from what lies within 3 cm"
          onPick={() => change({ source: "body", reach: 0.03 }, "Bind as a fitted piece")}
        >
          Fitted piece
        </Choice>
        <Choice
          name="source"
          checked={source === "joint"}
          hint="rigid, or swinging on a spring"
          onPick={() => change({ source: "joint", joint: now.joint || "l_radiocarpal" }, "Carry by a joint")}
        >
          Carried by
        </Choice>
      </fieldset>
      {source === "joint" && <Carried step={now} piece={piece} onChange={change} />}
      {source === "body" && kept && (
        <div className="mt-2 border-t border-dashed border-rule pt-2">
          <label className="flex items-baseline gap-2">
            <span className="text-soft">Worn</span>
            <Select
              label="Worn"
              className="min-w-0 flex-1"
              value={now.worn_as ?? "auto"}
              onChoose={(v) => change({ worn_as: v as StepOf<"bind">["worn_as"] }, `Bind ${v}`)}
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
                    on ? "Bind to what lies under" : "Bind to the skin alone",
                  )
                }
              >
                and from {under.length === 1 ? item(under, 0).name.toLowerCase() : "the pieces under it"}
              </Check>
            )}
            <Check
              checked={now.most === 8}
              onChange={(on) => change({ most: on ? 8 : 4 }, on ? "Eight joints a vertex" : "Four joints a vertex")}
            >
              eight joints a vertex
            </Check>
            <Hint text="Weights are solved anew where cloth would stretch more than the skin under it: armpits, the crotch">
              <span>
                <Check
                  checked={now.even !== false}
                  onChange={(on) => change({ even: on }, on ? "Stretch evened out" : "Stretch left as taken")}
                >
                  stretch evened out
                </Check>
              </span>
            </Hint>
            <Hint text="Whatever skin is nearest, for comparison; hold B for what was before">
              <span>
                <Check
                  checked={now.how === "nearest"}
                  onChange={(on) =>
                    change({ how: on ? "nearest" : "solve" }, on ? "Nearest skin alone" : "Accept and solve")
                  }
                >
                  nearest skin alone
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
        onChange={(v) => onChange({ legs: v ? "auto" : "off" }, v ? "Legs share the cloth" : "Legs do not share")}
      >
        each leg carries its half
      </Check>
      {on && (
        <Slider
          label="Shared over"
          min={0}
          max={1}
          step={0.05}
          value={width}
          shown={width === 0 ? "between the legs" : width === 1 ? "all round" : `${Math.round(width * 100)} %`}
          ends={["legs keep clear", "cloth stretches less"]}
          onChange={setWidth}
          onCommit={(v) => onChange({ width: v }, "Share between the legs")}
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
    ["stiffness", "Pulled back", 0, 200, 1, "1/s²"],
    ["damping", "Slowed", 0, 30, 0.5, "1/s"],
    ["gravity", "Gravity", 0, 2, 0.1, "×"],
  ] as const;
  return (
    <div className="mt-2 border-t border-dashed border-rule pt-2">
      <JointSelect
        label="Joint"
        joints={joints.data ?? []}
        value={step.joint ?? ""}
        onChange={(joint) => onChange({ joint }, `Carried by ${joint}`)}
      />
      <div className="mt-1.5 flex items-center gap-3">
        <Check
          checked={!!spring}
          onChange={(on) =>
            onChange(
              { spring: on ? { links: 1, stiffness: 4, damping: 2, gravity: 1, limit: 1.4 } : null },
              on ? "Hang on a spring" : "Carry firmly",
            )
          }
        >
          swings on a spring
        </Check>
        {spring && (
          <label className="ml-auto flex items-center gap-1 text-soft">
            links
            <Select
              label="Links of the chain"
              value={spring.links ?? 1}
              onChoose={(v) => onChange({ spring: { ...spring, links: Number(v) } }, "Links of the chain")}
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
            onCommit={(v) => onChange({ spring: { ...now, [key]: v } }, `Spring: ${label.toLowerCase()}`)}
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
      rigid ? "A part keeps its form" : "A part bends with the cloth",
    );
  };
  return (
    <div className="mt-2 border-t border-dashed border-rule pt-1.5">
      <div className="flex items-baseline">
        <span className="font-semibold">Parts</span>
        <span className="ml-auto text-[11.5px] text-soft">ticked ones keep their form</span>
      </div>
      <ul className="max-h-32 overflow-y-auto">
        {parts.map((part) => (
          <li key={part.vertex} className="flex items-center gap-2">
            <Check checked={part.rigid} onChange={(on) => toggle(part.vertex, on)}>
              <span className="first-letter:uppercase">{part.name}</span>
            </Check>
            <span className="ml-auto truncate text-[11.5px] text-soft">
              {(part.size_mm / 10).toFixed(1)} cm{part.joint && ` · ${part.joint}`}
            </span>
          </li>
        ))}
      </ul>
      {parts.some((p) => p.rigid) && (
        <Check
          checked={!!step.alone}
          onChange={(on) => onChange({ alone: on }, on ? "Parts ride one joint" : "Parts ride the blend")}
        >
          ride one joint alone
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
