import { useEffect } from "react";
import type { Table } from "./useTable";

/** Undo and redo, Escape lets go, Delete takes out, Enter and Backspace end and shorten a line that is drawn. */
export function useTableKeys(table: Table) {
  const { laid, chosen } = table;
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      const { target } = event;
      if (
        target instanceof Element &&
        target.closest("input:not([type=range]), textarea, [role=combobox], [role=listbox]")
      )
        return;
      const key = event.key.toLowerCase();
      if ((event.ctrlKey || event.metaKey) && (key === "z" || key === "y") && laid) {
        event.preventDefault();
        const back = key === "z" && !event.shiftKey;
        if (back ? laid.can_undo : laid.redo_label) table.step.mutate({ laid, back });
      } else if (key === "escape") {
        table.setFirst(null);
        table.setSketch(null);
        table.setChosen(null);
      } else if (key === "enter" && table.sketch) {
        event.preventDefault();
        table.endSketch();
      } else if (key === "backspace" && table.sketch) {
        const { panel, points } = table.sketch;
        table.setSketch(points.length > 1 ? { panel, points: points.slice(0, -1) } : null);
      } else if (key === "delete" && chosen?.line !== undefined) {
        table.dropLine(chosen.panel, chosen.line);
      } else if (key === "delete" && laid && chosen && chosen.corner !== null) {
        table.work.mutate({
          laid,
          do: "join",
          panel: chosen.panel,
          edge: chosen.corner,
          share: 0.5,
          wide: 0.03,
          deep: 0.1,
        });
        table.setChosen(null);
      }
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  });
}
