import { fresh, wordsOf } from "../../recipe/recipe";
import { useKept } from "../../store/kept";
import { useRoom } from "../../store/room";
import { Button, Hint, NumberField } from "../../ui/controls";
import type { ToolProps, WorkTool } from "../tool";

const WORDS = wordsOf("steam");

/** Drag over creases to relax them; wider folds stay. */
function Steam({ onAdd }: ToolProps) {
  const picking = useRoom((room) => room.picking?.tool === "steam");
  const [crease, setCrease] = useKept("steam crease", 4);
  const choose = () => {
    const { set, hand } = useRoom.getState();
    const done = ({ rows }: { rows: number[] }) => {
      const radius = useRoom.getState().hand.radius;
      onAdd({ ...fresh("steam"), rows: [...new Set(rows)], radius, crease: crease / 100 }, WORDS.name);
    };
    set({ hand: { ...hand, tool: null }, picking: { kind: "select", tool: "steam", done } });
  };
  return (
    <div className="flex w-full items-end gap-1.5">
      <div className="w-24">
        <NumberField
          label={WORDS.crease}
          unit="cm"
          value={crease}
          onCommit={(v) => setCrease(Math.min(30, Math.max(0.5, v)))}
        />
      </div>
      <Hint text={WORDS.hint}>
        <Button aria-pressed={picking} onClick={choose}>
          {picking ? WORDS.busy : WORDS.name}
        </Button>
      </Hint>
    </div>
  );
}

const tool: WorkTool<"steam"> = {
  kind: "steam",
  describe: () => WORDS.name,
  Panel: Steam,
};
export default tool;
