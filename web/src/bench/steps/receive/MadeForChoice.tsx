import type { Candidate, Piece } from "../../../api/client";
import { useCandidates } from "../../../api/hooks";
import { type StepOf, stepOf } from "../../../recipe/recipe";
import { Select } from "../../../ui/Select";
import { TEXT } from "./texts";

type MadeFor = NonNullable<StepOf<"receive">["made_for"]>;

/** The body the piece was made for: the artist says which, and the figures say if that can be. */
export function MadeForChoice({ piece, onKeep }: { piece: Piece; onKeep(choice: MadeFor | null): void }) {
  const found = useCandidates(piece);
  const chosen = stepOf(piece.recipe, "receive")?.made_for ?? null;
  const list = found.data ?? [];
  const at = list.find((c) => chosen && c.body === chosen.body && c.name === chosen.name);
  const likely = list[0];
  return (
    <section className="mt-1.5 border-t border-dashed border-rule pt-1.5" aria-label={TEXT.madeFor}>
      <label className="flex items-center justify-between gap-3">
        <span className="text-soft">{TEXT.madeFor}</span>
        <Select
          label={TEXT.madeFor}
          className="min-w-0 text-[13px]"
          value={chosen ? (at?.name ?? "other") : ""}
          onChoose={(v) => {
            const c = list.find((x) => x.name === v);
            onKeep(c ? { name: c.name, body: c.body, shape: c.shape } : null);
          }}
        >
          <option value="">{TEXT.notKnown}</option>
          {chosen && !at && <option value="other">{chosen.name}</option>}
          {list.map((c) => (
            <option key={c.name} value={c.name}>
              {c.name}
            </option>
          ))}
        </Select>
      </label>
      {likely && <p className="text-[11.5px] text-soft">{TEXT.nearest(figures(likely))}</p>}
      {at?.warning && <p className="text-[11.5px] text-amber">{TEXT.hardlyMadeFor(at.name, at.warning)}</p>}
    </section>
  );
}

function figures(c: Candidate): string {
  if (c.joints_mm !== null) return TEXT.itsJointsMmApart(c.name, c.joints_mm.toFixed(0));
  return TEXT.mmFromTheSkin(c.name, c.skin_mm.toFixed(0), (c.inside * 100).toFixed(0));
}
