import { adding, TOOLS } from "../../tool";
import type { WorkProps } from "./WorkPanel";

/** What cuts, and what gives cloth body: each tool's own controls, in the order of the bench's list. */
export function CutTab({ piece, onWork }: Pick<WorkProps, "piece" | "onWork">) {
  const props = { piece, onWork, onAdd: adding(piece, onWork) };
  return (
    <div className="flex flex-wrap items-end gap-x-1.5 gap-y-2">
      {TOOLS.map(({ kind, Panel }) => Panel && <Panel key={kind} {...props} />)}
    </div>
  );
}
