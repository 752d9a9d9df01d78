import { useState } from "react";
import type { Step } from "../../api/client";
import { useAdjusters, useParts } from "../../api/work";
import { useRoom } from "../../state/room";
import { Button, Hint, NumberField } from "../../ui/controls";
import { workOf } from "./recipe";
import type { WorkProps } from "./WorkPanel";

type Trim = Extract<Step, { kind?: "trim" }>;
type Triple = [number, number, number];

/** Shortening at an opening, cutting along a drawn line, cutting out, and what gives cloth body: thickness, finer faces. */
export function CutTab({ piece, onWork }: WorkProps) {
  const { set, picking, hand, say } = useRoom();
  const found = useAdjusters(piece, true);
  const parts = useParts(piece);
  const [at, setAt] = useState("");
  const [length, setLength] = useState(12);
  const [hem, setHem] = useState(2);
  const [thick, setThick] = useState(2);
  const [drawn, setDrawn] = useState<{ points: Triple[]; closed: boolean } | null>(null);
  const work = workOf(piece.recipe);
  const add = (step: Step, label: string) => onWork([...work, step], label);
  const hemmed = { hem: hem / 100, thick: 0.0015 };
  const openings = found.data?.openings ?? [];
  const both = [...new Set(openings.map((o) => o.label.replace(/^(Left|Right) /, "")))];
  const chosen = at || openings.find((o) => o.name.includes("cuff"))?.name || openings[0]?.name || "";
  const shorten = () => {
    const cuts = openings.filter(
      (o) => o.name === chosen || (chosen.startsWith("both ") && o.name.endsWith(chosen.slice(5))),
    );
    const steps = cuts.map((o): Trim => {
      const way = o.way as Triple;
      const point = o.end.map((x, k) => x - (way[k] * length) / 100) as Triple;
      return { kind: "trim", cut: { by: "plane", point, normal: way }, off: o.end as Triple, ...hemmed };
    });
    onWork([...work, ...steps], `Shorten ${chosen} by ${length} cm`);
  };
  const draw = () =>
    set({
      hand: { ...hand, tool: null },
      picking: {
        kind: "line",
        done: ({ points }) => {
          const [a, b] = [points[0], points[points.length - 1]];
          const closed = points.length > 8 && Math.hypot(...a.map((x, k) => x - b[k])) < 0.04;
          if (points.length < 2) say({ kind: "problem", text: "Drag over the piece to draw the line." });
          else setDrawn({ points, closed });
        },
      },
    });
  const cut = (off: Triple | null) => {
    if (!drawn) return;
    add(
      { kind: "trim", cut: { by: "curve", ...drawn }, off, ...hemmed },
      off ? "Trim along a line" : "Slit along a line",
    );
    setDrawn(null);
  };
  const select = () =>
    set({
      hand: { ...hand, tool: null },
      picking: {
        kind: "select",
        done: ({ rows }) =>
          add(
            { kind: "trim", cut: { by: "selection", rows: [...new Set(rows)], radius: hand.radius }, ...hemmed },
            "Cut out",
          ),
      },
    });
  const loose = parts.data?.slice(1) ?? [];
  return (
    <div className="flex flex-col gap-2">
      <div className="flex items-end gap-1.5">
        <label className="flex min-w-0 flex-1 flex-col gap-0.5 text-[11.5px] text-soft">
          Shorten at
          <select
            className="rounded-[3px] border border-rule bg-card px-1 py-1 text-[13px] text-ink"
            value={chosen}
            onChange={(e) => setAt(e.target.value)}
          >
            {both
              .filter((label) => openings.filter((o) => o.label.endsWith(` ${label}`)).length === 2)
              .map((label) => (
                <option key={label} value={`both ${label}`}>
                  both {label}s
                </option>
              ))}
            {openings.map((o) => (
              <option key={o.name} value={o.name}>
                {o.label}
              </option>
            ))}
          </select>
        </label>
        <div className="w-16">
          <NumberField label="by" unit="cm" digits={0} value={length} onCommit={(v) => v > 0 && setLength(v)} />
        </div>
        <Button onClick={shorten} disabled={!openings.length}>
          Cut
        </Button>
      </div>
      <div className="flex items-end gap-1.5">
        <div className="w-24">
          <NumberField label="Hem" unit="cm" value={hem} onCommit={(v) => setHem(Math.max(0, v))} />
        </div>
        <Hint text="Drag a line over the cloth: from border to border, round and closed, or ending inside for a slit">
          <Button aria-pressed={picking?.kind === "line"} onClick={draw}>
            {picking?.kind === "line" ? "Drag over it…" : "Draw a cut"}
          </Button>
        </Hint>
        <Hint text="Drag over what is to come off; the brush's radius says how wide">
          <Button aria-pressed={picking?.kind === "select"} onClick={select}>
            {picking?.kind === "select" ? "Drag over it…" : "Cut out"}
          </Button>
        </Hint>
      </div>
      {drawn && (
        <div className="flex flex-wrap items-center gap-1.5 rounded-[3px] border border-dashed border-heron px-2 py-1.5">
          <span>{drawn.closed ? "A closed line." : "A line."}</span>
          <Button
            aria-pressed={picking?.kind === "off"}
            onClick={() => set({ picking: { kind: "off", done: ({ points }) => cut(points[0]) } })}
          >
            {picking?.kind === "off" ? "Click that part…" : "Take a part off"}
          </Button>
          <Button onClick={() => cut(null)}>Open as a slit</Button>
          <Button look="quiet" className="px-0" onClick={() => setDrawn(null)}>
            Leave it
          </Button>
        </div>
      )}
      <div className="flex flex-wrap gap-1.5 border-t border-dashed border-rule pt-2">
        <Hint text="Finer faces where the body under it bends">
          <Button onClick={() => add({ kind: "refine", where: "joints", longest: 0.012 }, "Refine at joints")}>
            Refine at joints
          </Button>
        </Hint>
        <Button onClick={() => add({ kind: "refine", where: "all", longest: 0.001 }, "Refine")}>Refine all</Button>
        <Button onClick={() => add({ kind: "smooth", amount: 0.5 }, "Smooth")}>Smooth</Button>
        <Button onClick={() => add({ kind: "mirror", keep: "left" }, "Mirror the left half")}>Mirror left</Button>
        <Button onClick={() => add({ kind: "mirror", keep: "right" }, "Mirror the right half")}>Mirror right</Button>
      </div>
      <div className="flex items-end gap-1.5">
        <div className="w-24">
          <NumberField
            label="Thickness"
            unit="mm"
            value={thick}
            onCommit={(v) => setThick(Math.min(50, Math.max(0.2, v)))}
          />
        </div>
        <Button onClick={() => add({ kind: "thicken", thick: thick / 1000 }, `Thicken ${thick} mm`)}>Thicken</Button>
      </div>
      {loose.length > 0 && (
        <details>
          <summary className="cursor-pointer text-soft">Loose parts ({loose.length})</summary>
          <Button
            className="my-1"
            onClick={() => add({ kind: "drop", parts: loose.map((p) => p.row) }, "Take all loose parts off")}
          >
            Take all of them off
          </Button>
          <ul className="max-h-32 overflow-y-auto">
            {loose.map((part, i) => (
              <li key={part.row} className="flex items-center gap-2">
                <span className="truncate">
                  {part.material} {i + 1}
                </span>
                <span className="ml-auto text-[11.5px] text-soft">{(part.size * 100).toFixed(1)} cm</span>
                <Button
                  look="quiet"
                  className="px-1 py-0.5"
                  onClick={() => add({ kind: "drop", parts: [part.row] }, `Take ${part.material} ${i + 1} off`)}
                >
                  Take off
                </Button>
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
