import { RotateCcw, X } from "lucide-react";
import { Fragment } from "react";
import type { Production, Wearer } from "../../api/client";
import { useSetShape } from "../../api/hooks";
import { useRoom } from "../../state/room";
import { Button, Slider } from "../../ui/controls";

/** The wearer's shapes: live while dragged, kept when let go. */
export function ShapePanel({ production, wearer }: { production: Production; wearer: Wearer }) {
  const { live, set } = useRoom();
  const keep = useSetShape();
  const shape = live ?? wearer.shape;
  const groups = [...new Set(production.shapes.map((s) => s.group))];
  const commit = (next: Record<string, number>) => {
    set({ live: next });
    keep.mutate(
      { wearer: wearer.id, shape: next },
      { onSettled: () => useRoom.getState().live === next && set({ live: null }) },
    );
  };
  return (
    <section
      aria-label={`Shape of ${wearer.name}`}
      className="absolute top-[76px] left-4 max-h-[calc(100%-150px)] w-[216px] overflow-y-auto rounded-[4px] border border-rule bg-card/95 px-3.5 pt-2.5 pb-3"
    >
      <header className="flex items-center">
        <h2 className="font-title text-[15px] font-semibold">Shape</h2>
        <Button
          look="quiet"
          className="ml-auto px-1"
          aria-label="All shapes to the middle"
          title="All shapes to the middle"
          onClick={() => commit({})}
        >
          <RotateCcw size={14} />
        </Button>
        <Button look="quiet" className="px-1" aria-label="Close" onClick={() => set({ shapePanel: false })}>
          <X size={15} />
        </Button>
      </header>
      {groups.map((group) => (
        <Fragment key={group}>
          <h3 className="mt-1.5 border-b border-dashed border-rule pb-0.5 text-[11.5px] text-soft first-letter:uppercase">
            {group}
          </h3>
          {production.shapes
            .filter((s) => s.group === group)
            .map((s) => (
              <Slider
                key={s.name}
                label={s.label}
                min={-1}
                max={1}
                step={0.01}
                value={shape[s.name] ?? 0}
                onChange={(v) => set({ live: { ...shape, [s.name]: v } })}
                onCommit={(v) => commit({ ...shape, [s.name]: v })}
              />
            ))}
        </Fragment>
      ))}
    </section>
  );
}
