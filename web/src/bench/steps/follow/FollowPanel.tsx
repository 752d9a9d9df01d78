import { fresh, type StepOf, stepOf } from "../../../recipe/recipe";
import { Check } from "../../../ui/Check";
import { Fact } from "../../Fact";
import type { StepProps } from "../../step";
import { TEXT } from "./texts";

/** The follow step: which shapes the piece carries, and what keeps it off the skin at their ends. */
export function FollowPanel({ piece, onKeep }: Pick<StepProps, "piece" | "onKeep">) {
  const report = piece.report.follow;
  const now = stepOf(piece.recipe, "follow") ?? fresh("follow");
  const change = (to: Partial<StepOf<"follow">>, label: string) => onKeep({ ...now, ...to, kind: "follow" }, label);
  if (!report) return <p className="text-soft">{TEXT.givesThePieceEvery}</p>;
  return (
    <div>
      <p>
        {TEXT.itCarriesAll} {report.shapes} {TEXT.shapesOfTheBody}
        {report.own > 0 && TEXT.ofThemBroughtAlong(report.own)}
        {TEXT.slidersMoveBoth}
      </p>
      <dl className="mt-1.5">
        {!!report.under && <Fact name={TEXT.ridesTheSkinUnder}>{(report.under * 100).toFixed(0)} %</Fact>}
        <Fact name={TEXT.correctivesForShapes}>{report.correctives}</Fact>
        {report.short > 0 && <Fact name={TEXT.tooNearAtA}>{TEXT.vertices(report.short, report.left)}</Fact>}
      </dl>
      <div className="mt-1.5 flex flex-col gap-1 border-t border-dashed border-rule pt-1.5">
        <Check
          checked={now.clear !== false}
          onChange={(on) => change({ clear: on }, on ? TEXT.clearEachShape : TEXT.shapesAsTheyAre)}
        >
          {TEXT.clearEachShapeAt}
        </Check>
        <Check
          checked={now.pairs !== false}
          onChange={(on) => change({ pairs: on }, on ? TEXT.clearShapesTogether : TEXT.shapesAlone)}
        >
          {TEXT.andTwoOrThree}
        </Check>
      </div>
    </div>
  );
}
