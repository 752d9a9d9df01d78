export type Block = "holds" | "shows" | "open";

/** The sheet drawn small: at most so many blocks across and down, each of neighbouring cells; it says the worst of them. */
export function miniature(
  rows: readonly unknown[],
  columns: readonly unknown[],
  holds: (row: number, column: number) => boolean | null,
  most: { across: number; down: number },
): Block[][] {
  const down = parts(rows.length, most.down);
  const across = parts(columns.length, most.across);
  return down.map(([top, bottom]) =>
    across.map(([left, right]) => {
      let open = false;
      for (let row = top; row < bottom; row++)
        for (let column = left; column < right; column++) {
          const held = holds(row, column);
          if (held === false) return "shows";
          open ||= held === null;
        }
      return open ? "open" : "holds";
    }),
  );
}

/** `count` things in at most `most` runs of nearly the same length: where each begins and ends. */
function parts(count: number, most: number): [number, number][] {
  const runs = Math.min(count, most);
  return Array.from({ length: runs }, (_, k) => [Math.floor((k * count) / runs), Math.floor(((k + 1) * count) / runs)]);
}
