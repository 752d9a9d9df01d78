import { ArrowLeftRight, X } from "lucide-react";
import type { Laid, Side } from "../../api/table";
import { Hint } from "../../ui/controls";
import { TEXT } from "./texts";
import type { Table } from "./useTable";

const named = (s: Side) => `${s.panel} ${s.edge + 1}${s.other ? "′" : ""}`;

/** The seams with the lengths they join; what is longer is eased in. */
export function SeamList({ table, laid }: { table: Table; laid: Laid }) {
  const { seams } = laid.layout;
  if (!seams.length)
    return (
      <p className="text-[12px] text-soft">
        {TEXT.noSeamYetChoose} <b>{TEXT.sew}</b>
        {TEXT.thenClickTheTwo}
      </p>
    );
  return (
    <ol className="text-[12.5px]">
      {seams.map((seam, i) => {
        const { one, two } = laid.seams[i] ?? { one: 0, two: 0 };
        const ease = 100 * Math.abs(one - two);
        const much = Math.abs(one - two) > 0.1 * Math.max(one, two);
        return (
          <li
            key={`${named(seam.one)}-${named(seam.two)}`}
            className="group grid grid-cols-[18px_minmax(0,1fr)_auto] items-baseline gap-x-1 rounded-[3px] px-1 hover:bg-chalk"
            onPointerEnter={() => table.setLit(i)}
            onPointerLeave={() => table.setLit(null)}
          >
            <span className="font-semibold text-heron">{i + 1}</span>
            <span className="truncate">
              {named(seam.one)} – {named(seam.two)}
            </span>
            <span className="flex items-center gap-0.5">
              <span className={much ? "text-amber" : "text-soft"}>
                {(100 * Math.min(one, two)).toFixed(1)}
                {ease >= 0.15 && ` + ${ease.toFixed(1)}`} {TEXT.cm3}
              </span>
              <Hint text={TEXT.sewItTheOther}>
                <button
                  type="button"
                  aria-label={TEXT.turnSeam(i + 1)}
                  className={`cursor-pointer p-0.5 hover:text-ink ${seam.turned ? "text-heron" : "text-soft"}`}
                  onClick={() =>
                    table.keep(
                      { ...laid.layout, seams: seams.map((s, k) => (k === i ? { ...s, turned: !s.turned } : s)) },
                      TEXT.turnSeam(i + 1),
                    )
                  }
                >
                  <ArrowLeftRight size={12} />
                </button>
              </Hint>
              <Hint text={TEXT.undoThisSeam}>
                <button
                  type="button"
                  aria-label={TEXT.unpickSeam(i + 1)}
                  className="cursor-pointer p-0.5 text-soft hover:text-ink"
                  onClick={() =>
                    table.keep({ ...laid.layout, seams: seams.filter((_, k) => k !== i) }, TEXT.unpickSeam(i + 1))
                  }
                >
                  <X size={12} />
                </button>
              </Hint>
            </span>
          </li>
        );
      })}
    </ol>
  );
}
