import { useState } from "react";
import { type CellAsked, type ClearedCell, cellAsked, type Piece, type Production, type Step } from "../../api/client";
import { useRoom } from "../../state/room";
import { Button, Slider } from "../../ui/controls";
import { Fact } from "./Fact";
import { type StepOf, stepOf } from "./recipe";
import type { Fitting } from "./useFitting";

export interface PanelProps {
  piece: Piece;
  onKeep(step: Step, label: string): void;
}

export function BindPanel({ piece, onKeep }: PanelProps) {
  const kept = stepOf(piece.recipe, "bind");
  const report = piece.report.bind;
  const loose = (kept?.reach ?? 0.1) > 0.05;
  const own = kept?.source === "own";
  return (
    <div>
      <fieldset className="flex flex-col gap-1">
        <legend className="mb-0.5 text-soft">
          Weights are taken from the skin under the piece and solved where it is far.
        </legend>
        {!!piece.report.receive?.joints && (
          <label className="flex items-baseline gap-2">
            <input
              type="radio"
              name="reach"
              checked={own}
              disabled={!kept}
              onChange={() => kept && onKeep({ ...kept, kind: "bind", source: "own" }, "Bind with its own weights")}
            />
            <span>
              Its own weights{" "}
              <span className="text-[11.5px] text-soft">as they came, from {piece.report.receive.joints} joints</span>
            </span>
          </label>
        )}
        {(
          [
            [true, "Loose piece", "takes from the body within 10 cm: skirts go with the legs", 0.1],
            [false, "Fitted piece", "takes from the body within 3 cm", 0.03],
          ] as const
        ).map(([value, name, hint, reach]) => (
          <label key={name} className="flex items-baseline gap-2">
            <input
              type="radio"
              name="reach"
              checked={!own && loose === value}
              disabled={!kept}
              onChange={() =>
                kept && onKeep({ ...kept, kind: "bind", reach, source: "body" }, `Bind as a ${name.toLowerCase()}`)
              }
            />
            <span>
              {name} <span className="text-[11.5px] text-soft">{hint}</span>
            </span>
          </label>
        ))}
      </fieldset>
      {report && (
        <dl className="mt-2 border-t border-dashed border-rule pt-1.5">
          {report.own ? (
            <Fact name="Weights">{report.joints_unknown.length ? "its own, in part" : "its own"}</Fact>
          ) : (
            <>
              <Fact name="Taken from the skin">{(report.accepted * 100).toFixed(0)} %</Fact>
              <Fact name="Solved">{(report.solved * 100).toFixed(0)} %</Fact>
            </>
          )}
          <Fact name="Joints">
            {report.joints}, at most {report.most} a vertex
          </Fact>
        </dl>
      )}
    </div>
  );
}

export function FollowPanel({ piece }: { piece: Piece }) {
  const report = piece.report.follow;
  return report ? (
    <p>
      The piece carries all {report.shapes} shapes of the body; {(report.under * 100).toFixed(0)} % of it rides the skin
      under it, the rest is spread smoothly.
      {report.own > 0 && ` ${report.own} of them it brought along itself.`}
    </p>
  ) : (
    <p className="text-soft">Gives the piece every shape of the body, so that one slider moves both.</p>
  );
}

interface ClearProps extends PanelProps {
  production: Production;
  fitting: Fitting;
}

export function ClearPanel({ production, piece, fitting, onKeep }: ClearProps) {
  const { set } = useRoom();
  const pair = fitting.cell.data?.figures.pairs.find((p) => p.over === piece.name);
  const kept = piece.recipe.steps?.filter((s): s is StepOf<"clear"> => s.kind === "clear") ?? [];
  const [ease, setEase] = useState(4);
  const bound = !!stepOf(piece.recipe, "bind");
  const body = piece.recipe.body ?? "";
  const alike = production.cast.filter((w) => (w.body ?? "") === body).map((w) => w.id);
  const failing =
    production.trial?.cells.filter((c) => c.figures && !c.figures.holds && alike.includes(c.wearer)) ?? [];
  const shapeOf = (id: number) => production.cast.find((w) => w.id === id)?.shape ?? {};
  const last = piece.report.clear?.at(-1);
  if (!bound)
    return <p className="text-soft">Bind the piece first; a piece that does not follow cannot be cleared in a pose.</p>;
  const clear = (asked: CellAsked[], label: string) => {
    const cells = asked.map(({ body: _, ...cell }) => cell); // the recipe knows its body
    onKeep({ kind: "clear", cells, ease: ease / 1000 }, label);
  };
  return (
    <div>
      {pair && pair.places.length > 0 ? (
        <table className="w-full">
          <tbody>
            {pair.places.slice(0, 6).map((place) => (
              <tr key={place.centre.join()}>
                <td className="py-0.5 first-letter:uppercase">{place.name}</td>
                <td className="text-right text-soft">{place.area_cm2.toFixed(2)} cm²</td>
                <td className="text-right font-semibold text-coral">{place.depth_mm.toFixed(1)} mm</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <p className="text-moss">{pair ? "Nothing shows through in this cell." : "Measuring this cell…"}</p>
      )}
      <Slider
        label="Ease to"
        min={0}
        max={15}
        step={0.5}
        value={ease}
        shown={`${ease.toFixed(1)} mm`}
        onChange={setEase}
      />
      <div className="mt-1.5 flex flex-wrap gap-2">
        <Button
          look="primary"
          disabled={!pair?.places.length || piece.status === "waiting"}
          onClick={() =>
            clear([fitting.asked], `Ease out, ${fitting.wearer?.name} ${fitting.pose?.label.toLowerCase()}`)
          }
        >
          Ease out here
        </Button>
        <Button
          disabled={!failing.length || piece.status === "waiting"}
          onClick={() =>
            clear(
              failing.map((c) =>
                cellAsked(
                  shapeOf(c.wearer),
                  production.poses.find((p) => p.name === c.pose),
                ),
              ),
              `Ease out in ${failing.length} cells`,
            )
          }
        >
          In all {failing.length || ""} failing cells
        </Button>
        {!production.trial && (
          <Button look="quiet" onClick={() => set({ sheet: true })}>
            Measure the sheet first
          </Button>
        )}
      </div>
      {kept.length > 0 && last && (
        <ul className="mt-2 border-t border-dashed border-rule pt-1.5 text-[12px]">
          {last.cells.slice(0, 6).map((c: ClearedCell) => (
            <li key={`${c.pose}${JSON.stringify(c.before)}${c.moved}`} className="flex justify-between">
              <span className="text-soft">{production.poses.find((p) => p.name === c.pose)?.label ?? c.pose}</span>
              <span>
                {c.before && c.after ? `${c.before.area_cm2.toFixed(2)} → ${c.after.area_cm2.toFixed(2)} cm²` : c.why}
                {c.before && !c.kept && c.before.places > 0 ? ", left: it would get worse" : ""}
              </span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
