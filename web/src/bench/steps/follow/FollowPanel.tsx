import { fresh, type StepOf, stepOf } from "../../../recipe/recipe";
import { Check } from "../../../ui/Check";
import { Fact } from "../../Fact";
import type { StepProps } from "../../step";

/** The follow step: which shapes the piece carries, and what keeps it off the skin at their ends. */
export function FollowPanel({ piece, onKeep }: Pick<StepProps, "piece" | "onKeep">) {
  const report = piece.report.follow;
  const now = stepOf(piece.recipe, "follow") ?? fresh("follow");
  const change = (to: Partial<StepOf<"follow">>, label: string) => onKeep({ ...now, ...to, kind: "follow" }, label);
  if (!report)
    return <p className="text-soft">Gives the piece every shape of the body, so that one slider moves both.</p>;
  return (
    <div>
      <p>
        It carries all {report.shapes} shapes of the body
        {report.own > 0 && `, ${report.own} of them brought along`}; sliders move both.
      </p>
      <dl className="mt-1.5">
        {!!report.under && <Fact name="Rides the skin under it">{(report.under * 100).toFixed(0)} %</Fact>}
        <Fact name="Correctives for shapes">{report.correctives}</Fact>
        {report.short > 0 && (
          <Fact name="Too near at a shape's end">
            {report.short} → {report.left} vertices
          </Fact>
        )}
      </dl>
      <div className="mt-1.5 flex flex-col gap-1 border-t border-dashed border-rule pt-1.5">
        <Check
          checked={now.clear !== false}
          onChange={(on) => change({ clear: on }, on ? "Clear each shape" : "Shapes as they are")}
        >
          clear each shape at full strength
        </Check>
        <Check
          checked={now.pairs !== false}
          onChange={(on) => change({ pairs: on }, on ? "Clear shapes together" : "Shapes alone")}
        >
          and two or three together
        </Check>
      </div>
    </div>
  );
}
