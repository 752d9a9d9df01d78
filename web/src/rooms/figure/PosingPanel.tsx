import { Redo2, Undo2 } from "lucide-react";
import { type FormEvent, useState } from "react";
import { type Move, markPosing, stepPosing, useJoints, useOwnPose, usePosingMove } from "../../api/posing";
import { type Posing, useRoom } from "../../store/room";
import { Button, Slider } from "../../ui/controls";
import { Select } from "../../ui/Select";
import { PanelTool, StagePanel } from "../../ui/StagePanel";

const SIDES = [
  ["mirror", "Mirror", "Left and right exchanged"],
  ["copy l", "Copy left", "The left arm and leg on the right side too"],
  ["copy r", "Copy right", "The right arm and leg on the left side too"],
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
          say({ kind: "done", text: `${pose.label} is kept and stands on the pose axis.` });
        },
      },
    );
  };
  return (
    <StagePanel
      title="By hand"
      label="Pose by hand"
      onClose={() => set({ posing: null })}
      tools={
        <>
          <PanelTool
            name="Undo pose"
            hint="Undo the last move (Ctrl Z)"
            disabled={!posing.past.length}
            onClick={() => stepPosing(true)}
          >
            <Undo2 size={14} />
          </PanelTool>
          <PanelTool
            name="Redo pose"
            hint="Do it again (Ctrl Shift Z)"
            disabled={!posing.next.length}
            onClick={() => stepPosing(false)}
          >
            <Redo2 size={14} />
          </PanelTool>
        </>
      }
    >
      <p className="text-[12px] text-soft">
        Drag a bead: hands and feet take their limb along. No joint leaves its range of motion.
      </p>
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
        Joint
        <Select
          label="Joint"
          className="text-[13px]"
          value={posing.joint ?? ""}
          onChoose={(v) => v && move({ kind: "turn", joint: v })}
        >
          <option value="">Choose, or pick a bead</option>
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
        <p className="mt-1 text-[12px] text-soft">{spoken(joint.name)} goes where its bead is dragged.</p>
      )}
      {posing.short > 0.01 && (
        <p className="mt-1 text-[12px] text-amber">
          {posing.joint && spoken(posing.joint)} cannot go further: {(100 * posing.short).toFixed(0)} cm short.
        </p>
      )}
      <form className="mt-2 flex items-end gap-1.5 border-t border-dashed border-rule pt-2" onSubmit={store}>
        <label className="flex min-w-0 flex-1 flex-col gap-0.5 text-[11.5px] text-soft">
          Name
          <input
            className="w-full min-w-0 rounded-[3px] border border-rule bg-card px-1.5 py-1 text-[13px] text-ink"
            maxLength={40}
            placeholder="Lantern on the hook"
            value={label}
            onChange={(e) => setLabel(e.target.value)}
          />
        </label>
        <Button type="submit" look="primary" disabled={!label.trim() || keep.isPending}>
          Keep
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
  vt1: "base of the neck",
  vt6: "chest",
  vt10: "ribs",
  vl1: "waist",
  vl3: "small of the back",
  vl5: "loins",
};
const DIGITS = ["", "thumb", "index finger", "middle finger", "ring finger", "little finger"];
const BONES: [RegExp, string][] = [
  [/^carpometacarpal/, "root of the "],
  [/^metacarpophalangeal/, "knuckle of the "],
  [/^carpal_(proximal_)?interphalangeal/, "joint of the "],
  [/^carpal_distal/, "end of the "],
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
