import type { Delta, Source } from "./drawn";
import type { Figure } from "./figure";
import type { PieceMesh } from "./piece";
import { correctivesOf, correctiveValues, type Stance } from "./worn";

/** The body with the ways its skin gives way under what is worn among its moves, and how much of each comes in. */
export interface DressedSkin {
  source: Source;
  influence(stance: Stance): (move: number) => number;
}

export function dressedSkin(figure: Figure, worn: PieceMesh[]): DressedSkin {
  const count = figure.source.points.length / 3;
  const given = worn.flatMap(({ frame }) => {
    const correctives = correctivesOf(frame, figure.shapes, figure.joints, "yields");
    return correctives ? [{ correctives, deltas: yielding(frame, correctives.list.length, count) }] : [];
  });
  const source = { ...figure.source, deltas: [...figure.source.deltas, ...given.flatMap((g) => g.deltas)] };
  return {
    source,
    influence: (stance) => {
      const more = given.flatMap((g) => [...correctiveValues(g.correctives, stance.values, stance.turns)]);
      const { values } = stance;
      return (s) => (s < values.length ? values[s] : more[s - values.length]) ?? 0;
    },
  };
}

/** The rows of the figure drawn that each way moves; the coarser figure's vertices are the finer one's first. */
function yielding(frame: PieceMesh["frame"], ways: number, count: number): Delta[] {
  const rows = frame.array<Int32Array>("yield_rows");
  const steps = frame.array<Int16Array>("yield_steps");
  const there = rows.filter((row) => row < count);
  return Array.from({ length: ways }, (_, k) => {
    const own = new Int16Array(3 * there.length);
    let at = 0;
    rows.forEach((row, i) => {
      if (row >= count) return;
      own.set(steps.subarray(3 * (k * rows.length + i), 3 * (k * rows.length + i) + 3), at);
      at += 3;
    });
    return { rows: there, steps: own };
  });
}
