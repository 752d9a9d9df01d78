import { Redo2, Undo2 } from "lucide-react";
import { type FormEvent, useState } from "react";
import { type Move, markPosing, stepPosing, useJoints, useOwnPose, usePosingMove } from "../../api/posing";
import { type Posing, useRoom } from "../../store/room";
import { Button, Slider } from "../../ui/controls";
import { Select } from "../../ui/Select";
import { PanelTool, StagePanel } from "../../ui/StagePanel";
import { TEXT } from "./texts";

const SIDES = [
  ["mirror", TEXT.mirror, TEXT.leftAndRightExchanged],
  ["copy l", TEXT.copyLeft, TEXT.theLeftArmAnd],
  ["copy r", TEXT.copyRight, TEXT.theRightArmAnd],
] as const;

/** A pose made by hand: beads on the stage are dragged, a chosen joint is turned here, and the pose is kept under a name. */
export function PosingPanel({ posing }: { posing: Posing }) {
  const { set, say } = useRoom.getState();
  const joints = useJoints(true);
  const move = usePosingMove();
  const { keep } = useOwnPose();
  const [label, setLabel] = useState("");
  const joint = joints.data?.find((j) => j.name === posing.joint);
  const act = (m: Move) => {
    markPosing();
    move(m);
  };
  const store = (event: FormEvent) => {
    event.preventDefault();
    keep.mutate(
      { label: label.trim(), rotations: posing.rotations },
      {
        onSuccess: (pose) => {
          if (!pose) return;
          set({ posing: null, pose: pose.name });
          say({ kind: "done", text: TEXT.isKeptAndStands(pose.label) });
        },
      },
    );
  };
  return (
    <StagePanel
      title={TEXT.byHand}
      label={TEXT.poseByHand}
      onClose={() => set({ posing: null })}
      tools={
        <>
          <PanelTool
            name={TEXT.undoPose}
            hint={TEXT.undoTheLastMove}
            disabled={!posing.past.length}
            onClick={() => stepPosing(true)}
          >
            <Undo2 size={14} />
          </PanelTool>
          <PanelTool
            name={TEXT.redoPose}
            hint={TEXT.doItAgainCtrl}
            disabled={!posing.next.length}
            onClick={() => stepPosing(false)}
          >
            <Redo2 size={14} />
          </PanelTool>
        </>
      }
    >
      <p className="text-[12px] text-soft">{TEXT.dragABeadHands}</p>
      <div className="mt-2 grid grid-cols-[auto_1fr_1fr] gap-1">
        {SIDES.map(([side, word, hint]) => (
          <Button
            key={side}
            className="!px-1 text-[12px]"
            title={hint}
            onClick={() => act({ kind: "side", act: side })}
          >
            {word}
          </Button>
        ))}
      </div>
      <label className="mt-2 flex flex-col gap-0.5 border-t border-dashed border-rule pt-2 text-[11.5px] text-soft">
        {TEXT.joint}
        <Select
          label={TEXT.joint}
          className="text-[13px]"
          value={posing.joint ?? ""}
          onChoose={(v) => v && move({ kind: "turn", joint: v })}
        >
          <option value="">{TEXT.chooseOrPickA}</option>
          {joints.data
            ?.filter((j) => j.swings.length)
            .map((j) => (
              <option key={j.name} value={j.name}>
                {spoken(j.name)}
              </option>
            ))}
        </Select>
      </label>
      {joint?.swings.map((swing, i) => (
        <Slider
          key={`${joint.name}${swing.name}`}
          label={capital(swing.name)}
          value={posing.degrees[i] ?? 0}
          min={swing.low}
          max={swing.high}
          step={1}
          shown={`${Math.round(posing.degrees[i] ?? 0)}°`}
          onChange={(value) => {
            if (!turning) {
              markPosing();
              turning = true;
            }
            const degrees = posing.degrees.map((d, k) => (k === i ? value : d));
            set({ posing: { ...(useRoom.getState().posing ?? posing), degrees } });
            move({ kind: "turn", joint: joint.name, degrees });
          }}
          onCommit={() => {
            turning = false;
          }}
        />
      ))}
      {joint && !joint.swings.length && (
        <p className="mt-1 text-[12px] text-soft">{TEXT.goesWhereItsBead(spoken(joint.name))}</p>
      )}
      {posing.short > 0.01 && (
        <p className="mt-1 text-[12px] text-amber">
          {posing.joint && spoken(posing.joint)} {TEXT.cannotGoFurther} {(100 * posing.short).toFixed(0)} {TEXT.cmShort}
        </p>
      )}
      <form className="mt-2 flex items-end gap-1.5 border-t border-dashed border-rule pt-2" onSubmit={store}>
        <label className="flex min-w-0 flex-1 flex-col gap-0.5 text-[11.5px] text-soft">
          {TEXT.name}
          <input
            className="w-full min-w-0 rounded-[3px] border border-rule bg-card px-1.5 py-1 text-[13px] text-ink"
            maxLength={40}
            placeholder={TEXT.lanternOnTheHook}
            value={label}
            onChange={(e) => setLabel(e.target.value)}
          />
        </label>
        <Button type="submit" look="primary" disabled={!label.trim() || keep.isPending}>
          {TEXT.keep}
        </Button>
      </form>
    </StagePanel>
  );
}

/** Whether a slider is under way: its first change marks the pose before it. */
let turning = false;

const WORDS: Record<string, string> = {
  radiocarpal: "wrist",
  talocrural: "ankle",
  metatarsophalangeal: "toes",
  sternoclavicular: "collarbone",
  skullbase: "head",
  vc4: "neck",
  vt1: TEXT.baseOfTheNeck,
  vt6: "chest",
  vt10: "ribs",
  vl1: "waist",
  vl3: TEXT.smallOfTheBack,
  vl5: "loins",
};
const DIGITS = ["", "thumb", TEXT.indexFinger, TEXT.middleFinger, TEXT.ringFinger, TEXT.littleFinger];
const BONES: [RegExp, string][] = [
  [/^carpometacarpal/, TEXT.rootOfThe],
  [/^metacarpophalangeal/, TEXT.knuckleOfThe],
  [/^carpal_(proximal_)?interphalangeal/, TEXT.jointOfThe],
  [/^carpal_distal/, TEXT.endOfThe],
];

/** A joint's name in plain words. */
export function spoken(joint: string): string {
  const side = joint.startsWith("l_") ? "Left " : joint.startsWith("r_") ? "Right " : "";
  const plain = side ? joint.slice(2) : joint;
  const digit = DIGITS[Number(plain.match(/_(\d)$/)?.[1] ?? 0)];
  const bone = digit && BONES.find(([name]) => name.test(plain));
  const word = bone
    ? `${bone[1]}${digit}`
    : (WORDS[plain] ?? plain.replace("_twist", " roll").replace("shoulder roll", "upper arm roll"));
  return side ? side + word : capital(word);
}

function capital(word: string): string {
  return word.charAt(0).toUpperCase() + word.slice(1);
}
