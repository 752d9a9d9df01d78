import clsx from "clsx";
import { ArrowLeftRight, Blend, Minus, PaintBucket, Plus, Waves, X } from "lucide-react";
import { useState } from "react";
import { useBindJoints } from "../../../api/binding";
import type { Step } from "../../../api/client";
import { type StepOf, weighOf } from "../../../recipe/recipe";
import { useRoomOf, type WeightTool } from "../../../store/room";
import { Check } from "../../../ui/Check";
import { Button, Hint } from "../../../ui/controls";
import { Select } from "../../../ui/Select";
import { BrushSize } from "../../BrushSize";
import type { BindProps } from "./BindPanel";
import { JointSelect } from "./JointSelect";
import { TEXT } from "./texts";

const TOOLS: [WeightTool, string, string, typeof Plus][] = [
  ["add", TEXT.add, TEXT.theJointGainsThe, Plus],
  ["take", TEXT.take, TEXT.theJointLosesThe, Minus],
  ["blend", TEXT.blend, TEXT.theJointsShareIs, Blend],
  ["iron", TEXT.iron, TEXT.allSharesAreEvened, Waves],
  ["share", TEXT.share, TEXT.twoJointsShareAlong, ArrowLeftRight],
];

/** The weight brush: one joint or a pair, with locks, a mirror, and whole regions at once. */
export function BrushTab({ piece, onWeigh }: BindProps) {
  const joints = useBindJoints(piece);
  const { weights, set } = useRoomOf("weights", "set");
  const [region, setRegion] = useState("");
  const change = (to: Partial<typeof weights>) => set({ weights: { ...weights, ...to } });
  const made = weighOf(piece.recipe);
  const list = joints.data ?? [];
  const most = [...list].sort((a, b) => b.bears - a.bears)[0];
  const joint = weights.joint && list.some((j) => j.name === weights.joint) ? weights.joint : (most?.name ?? "");
  if (joint && joint !== weights.joint) queueMicrotask(() => change({ joint }));
  const fill = () => {
    const step: Step = {
      kind: "weigh",
      tool: "fill",
      joint,
      other: weights.other,
      radius: weights.radius,
      strength: weights.strength,
      mirror: false,
      locks: weights.locks,
      region,
      dabs: [],
    };
    onWeigh([...made, step], TEXT.fillWith(joint));
  };
  return (
    <div>
      <JointSelect label={TEXT.joint} joints={list} value={joint} onChange={(v) => change({ joint: v })} />
      <div className="mt-1">
        <JointSelect
          label={TEXT.pair}
          joints={list}
          none="none: the rest give and take"
          value={weights.other}
          onChange={(v) => change({ other: v })}
        />
      </div>
      <div className="mt-2 grid grid-cols-3 gap-1">
        {TOOLS.map(([tool, label, hint, Icon]) => (
          <Hint key={tool} text={hint}>
            <Button
              aria-pressed={weights.tool === tool}
              disabled={tool === "share" && !weights.other}
              className={clsx("px-0.5", weights.tool === tool && "border-heron bg-heron/10")}
              onClick={() => change({ tool: weights.tool === tool ? null : tool })}
            >
              <Icon size={13} className="shrink-0" /> {label}
            </Button>
          </Hint>
        ))}
      </div>
      <BrushSize radius={weights.radius} widest={30} strength={weights.strength} onChange={change} />
      <div className="mt-1 flex items-center gap-3">
        <Check checked={weights.mirror} onChange={(mirror) => change({ mirror })}>
          {TEXT.bothSides}
        </Check>
        <label className="ml-auto flex min-w-0 items-center gap-1 text-soft">
          {TEXT.lock}
          <Select
            label={TEXT.lockAJoint}
            className="w-20"
            value=""
            onChoose={(v) => change({ locks: [...new Set([...weights.locks, v])] })}
          >
            <option value="">{TEXT.choose}</option>
            {list
              .filter((j) => j.bears > 0.5 && j.name !== joint && !weights.locks.includes(j.name))
              .map((j) => (
                <option key={j.name}>{j.name}</option>
              ))}
          </Select>
        </label>
      </div>
      {weights.locks.length > 0 && (
        <p className="mt-1 flex flex-wrap gap-1">
          {weights.locks.map((name) => (
            <Button
              key={name}
              className="px-1.5 py-0.5 text-[11.5px]"
              onClick={() => change({ locks: weights.locks.filter((l) => l !== name) })}
            >
              {name} <X size={11} />
            </Button>
          ))}
        </p>
      )}
      <div className="mt-2 flex items-center gap-1.5 border-t border-dashed border-rule pt-2">
        <Hint text={TEXT.theJointGainsOver}>
          <Button onClick={fill} disabled={!joint}>
            <PaintBucket size={13} /> {TEXT.fill}
          </Button>
        </Hint>
        <Select label={TEXT.regionToFill} className="min-w-0 flex-1" value={region} onChoose={(v) => setRegion(v)}>
          <option value="">{TEXT.theWholePiece}</option>
          {REGIONS.map((name) => (
            <option key={name} value={name}>
              {name.replace("l_", "left ").replace("r_", "right ").replaceAll("_", " ")}
            </option>
          ))}
        </Select>
      </div>
      <p className="mt-1.5 text-[11.5px] text-soft">
        {TEXT.paintOnThePiece}
        {weights.last !== null && TEXT.lastUpdateMs(weights.last.toFixed(1))}
      </p>
      <Strokes made={made} onWeigh={onWeigh} />
    </div>
  );
}

const SIDED = [
  "shoulder",
  "upper_arm",
  "elbow",
  "forearm",
  "wrist",
  "thigh",
  "knee",
  "lower_leg",
  "ankle",
  "foot",
  "palm",
  "back_of_hand",
];
const REGIONS = [
  ...["neck", "chest", "belly", "upper_back", "lower_back", "lap", "seat", "scalp", "face"],
  ...SIDED.flatMap((name) => [`l_${name}`, `r_${name}`]),
];

export function Strokes({ made, onWeigh }: { made: Step[]; onWeigh: BindProps["onWeigh"] }) {
  if (!made.length) return null;
  const said = (step: Step) =>
    step.kind === "mend"
      ? TEXT.mend((step as StepOf<"mend">).kinds.join(", "))
      : `${(step as StepOf<"weigh">).tool} ${(step as StepOf<"weigh">).joint}`;
  return (
    <ol
      className="mt-2 max-h-28 overflow-y-auto border-t border-dashed border-rule pt-1.5"
      aria-label={TEXT.strokesOnTheWeights}
    >
      {made.map((step, i) => (
        <li
          // biome-ignore lint/suspicious/noArrayIndexKey: a stroke is known by its place
          key={i}
          className="flex items-center gap-1"
        >
          <span className="w-5 text-right text-[11.5px] text-soft">{i + 1}</span>
          <span className="truncate first-letter:uppercase">{said(step)}</span>
          <button
            type="button"
            aria-label={TEXT.takeBack(said(step))}
            className="ml-auto cursor-pointer p-0.5 text-soft hover:text-ink"
            onClick={() =>
              onWeigh(
                made.filter((_, k) => k !== i),
                TEXT.without(said(step)),
              )
            }
          >
            <X size={12} />
          </button>
        </li>
      ))}
    </ol>
  );
}
