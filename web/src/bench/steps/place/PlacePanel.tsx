import { useAskPlace, useLandmarks } from "../../../api/work";
import { item } from "../../../recipe/at";
import { fresh, type StepOf, stepOf } from "../../../recipe/recipe";
import { useKept } from "../../../store/kept";
import { useRoomOf } from "../../../store/room";
import { Button, Hint, NumberField } from "../../../ui/controls";
import { Select } from "../../../ui/Select";
import type { StepProps } from "../../step";
import { TEXT } from "./texts";

type Place = StepOf<"place">;
type Triple = [number, number, number];

/** Where the piece lies: in figures, proposed, dropped, mirrored, or snapped to a landmark. */
export function PlacePanel({
  piece,
  onKeep,
  wearer,
}: Pick<StepProps, "piece" | "onKeep"> & { wearer: number | undefined }) {
  const { set, picking, say } = useRoomOf("set", "picking", "say");
  const ask = useAskPlace();
  const landmarks = useLandmarks(wearer, true);
  const [landmark, setLandmark] = useKept("place landmark", "crown");
  const step = stepOf(piece.recipe, "place") ?? fresh("place");
  const move = step.move ?? [0, 0, 0];
  const turn = step.turn ?? [0, 0, 0];
  const stretch = step.stretch ?? [1, 1, 1];
  const keep = (change: Partial<Place>, label = TEXT.place) => onKeep({ ...step, ...change, kind: "place" }, label);
  const put = (list: number[], i: number, value: number) => list.map((x, k) => (k === i ? value : x)) as Triple;
  const take = (how: "propose" | "drop" | "snap", label: string, more: { row?: number; landmark?: string } = {}) =>
    ask.mutate(
      { piece: piece.id, how, landmark: "", ...more },
      {
        onSuccess: (found) => {
          if (!found) return;
          onKeep({ ...found.step, kind: "place" } as Place, label);
          say({ kind: "done", text: TEXT.placed(found.why) });
        },
      },
    );
  const snap = () =>
    set({
      picking: {
        kind: "snap",
        landmark,
        done: ({ rows }) => take("snap", TEXT.snapToThe(landmark), { row: rows[0], landmark }),
      },
    });
  return (
    <div className="flex flex-col gap-2">
      <div className="flex gap-1.5">
        {[TEXT.left, TEXT.up, TEXT.ahead].map((name, i) => (
          <NumberField
            key={name}
            label={name}
            unit="cm"
            value={item(move, i) * 100}
            onCommit={(v) => keep({ move: put(move, i, v / 100) })}
          />
        ))}
      </div>
      <div className="flex gap-1.5">
        {[TEXT.tip, TEXT.turn, TEXT.lean].map((name, i) => (
          <NumberField
            key={name}
            label={name}
            unit="°"
            value={(item(turn, i) * 180) / Math.PI}
            step={5}
            onCommit={(v) => keep({ turn: put(turn, i, (v * Math.PI) / 180) })}
          />
        ))}
      </div>
      <div className="flex gap-1.5">
        <NumberField
          label={TEXT.size}
          unit="%"
          digits={0}
          value={(step.scale ?? 1) * 100}
          step={5}
          onCommit={(v) => v > 0.1 && keep({ scale: v / 100 })}
        />
        {[TEXT.width, TEXT.height, TEXT.depth].map((name, i) => (
          <NumberField
            key={name}
            label={name}
            unit="%"
            digits={0}
            value={item(stretch, i) * 100}
            step={5}
            onCommit={(v) => v > 1 && keep({ stretch: put(stretch, i, v / 100) })}
          />
        ))}
      </div>
      <div className="flex flex-wrap gap-1 [&>button]:px-2">
        <Hint text={TEXT.whereAPieceOf}>
          <Button disabled={ask.isPending} onClick={() => take("propose", TEXT.placeWhereItIs)}>
            {TEXT.propose}
          </Button>
        </Hint>
        <Hint text={TEXT.letItFallUntil}>
          <Button disabled={ask.isPending} onClick={() => take("drop", TEXT.dropOntoTheBody)}>
            {TEXT.drop}
          </Button>
        </Hint>
        <Button aria-pressed={step.mirror} onClick={() => keep({ mirror: !step.mirror }, TEXT.mirror)}>
          {TEXT.mirror}
        </Button>
        <Button onClick={() => onKeep(fresh("place"), TEXT.putBack)}>{TEXT.reset}</Button>
      </div>
      <div className="flex items-center gap-1.5">
        <Select label={TEXT.landmark} className="min-w-0 flex-1" value={landmark} onChoose={(v) => setLandmark(v)}>
          {landmarks.data?.map((l) => (
            <option key={l.name}>{l.name}</option>
          ))}
        </Select>
        <Button aria-pressed={picking?.kind === "snap"} disabled={!landmarks.data} onClick={snap}>
          {picking?.kind === "snap" ? TEXT.clickThePiece : TEXT.snapToIt}
        </Button>
      </div>
      <p className="text-[11.5px] text-soft">{TEXT.roughlyRightIsEnough}</p>
    </div>
  );
}
