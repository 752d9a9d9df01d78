import { ListChecks } from "lucide-react";
import type { Piece, Production } from "../../../api/client";
import { type DrapeStep, useBake, useBaking } from "../../../api/drape";
import { useKept } from "../../../store/kept";
import { Check } from "../../../ui/Check";
import { Button } from "../../../ui/controls";
import { TEXT } from "./texts";

interface Props {
  piece: Piece;
  production: Production;
  /** The step as it is set, for any pose. */
  step: DrapeStep | null;
  /** The milliseconds of a frame, if it has been played. */
  ms: number | null;
}

/** Let the piece fall in several poses as a job: each is kept as a corrective, so that it looks draped there with plain skinning. */
export function BakePoses({ piece, production, step, ms }: Props) {
  const poses = production.poses.filter((p) => p.name !== "rest");
  const done = new Set(
    piece.recipe.steps?.flatMap((s) => (s.kind === "drape" && s.keep === "pose" && !s.motion ? [s.cell?.pose] : [])),
  );
  const [off, setOff] = useKept<Set<string>>(`bake ${piece.id} off`, new Set());
  const chosen = poses.filter((p) => !off.has(p.name) && !done.has(p.name));
  const { data: bake } = useBake(piece.id);
  const { start, stop } = useBaking(piece.id);
  const running = bake?.state === "running";
  const frames = 72 * chosen.length;
  const vertices = piece.report.receive?.vertices ?? 0;
  const size = (vertices * 12 * chosen.length) / 1e6;
  if (running && bake)
    return (
      <section aria-label={TEXT.baking} className="mt-2 border-t border-dashed border-rule pt-1.5">
        <p>{TEXT.bakingOf(bake.poses[bake.done]?.toLowerCase() ?? "", bake.done + 1, bake.poses.length)}</p>
        <div className="mt-1 h-1 bg-chalk">
          <div
            className="h-1 bg-heron"
            style={{ width: `${(100 * (bake.done + bake.frame / bake.frames)) / bake.poses.length}%` }}
          />
        </div>
        <Button className="mt-1" onClick={() => stop.mutate(undefined)}>
          {TEXT.stop}
        </Button>
      </section>
    );
  return (
    <section aria-label={TEXT.baking} className="mt-2 border-t border-dashed border-rule pt-1.5">
      <p className="text-soft">{TEXT.inSeveralPosesAs}</p>
      <div className="mt-0.5 grid grid-cols-2 gap-x-2">
        {poses.map((p) => (
          <Check
            key={p.name}
            className="truncate"
            disabled={done.has(p.name)}
            checked={!off.has(p.name) && !done.has(p.name)}
            onChange={(on) => {
              const next = new Set(off);
              if (on) next.delete(p.name);
              else next.add(p.name);
              setOff(next);
            }}
          >
            <span className={done.has(p.name) ? "text-moss" : ""}>
              {p.label}
              {done.has(p.name) && ", kept"}
            </span>
          </Check>
        ))}
      </div>
      <Button
        className="mt-1"
        disabled={!step || !chosen.length || start.isPending || piece.status === "waiting"}
        onClick={() =>
          step && start.mutate({ step: { ...step, keep: "pose", motion: "" }, poses: chosen.map((p) => p.name) })
        }
      >
        <ListChecks size={13} /> {TEXT.bake} {chosen.length === 1 ? TEXT.onePose : TEXT.poses(chosen.length)}
      </Button>
      <p className="mt-0.5 text-[12px] text-soft">
        {frames} {TEXT.frames}
        {ms ? TEXT.aboutS(Math.ceil((ms * frames) / 1000)) : ""}
        {size ? TEXT.mbOfCorrectivesAt(size.toFixed(1)) : ""}.
        {bake?.state === "failed" && <span className="text-amber">{TEXT.theLastOneEnded(bake.why)}</span>}
        {bake?.state === "cancelled" && TEXT.theLastOneWas(bake.done, bake.poses.length)}
        {bake?.state === "done" &&
          bake.strain.length > 0 &&
          TEXT.theLastOneStrain((100 * Math.max(...bake.strain)).toFixed(0))}
      </p>
    </section>
  );
}
