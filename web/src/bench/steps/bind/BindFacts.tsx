import { Hint } from "../../../ui/controls";
import { Fact } from "../../Fact";
import type { BindProps } from "./BindPanel";
import { TEXT } from "./texts";

/** Where the weights came from, and how many joints they name. */
export function BindFacts({ report }: { report: NonNullable<BindProps["piece"]["report"]["bind"]> }) {
  return (
    <dl className="mt-2 border-t border-dashed border-rule pt-1.5">
      {report.carried_by ? (
        <Fact name={TEXT.carriedBy}>
          {report.carried_by}
          {report.spring &&
            TEXT.ofCm(
              report.links,
              report.links === 1 ? "link" : "links",
              (report.length_mm / Math.max(report.links, 1) / 10).toFixed(1),
            )}
        </Fact>
      ) : report.own ? (
        <Fact name={TEXT.weights}>{report.joints_unknown.length ? TEXT.itsOwnInPart : TEXT.itsOwn}</Fact>
      ) : (
        <>
          <Fact name={TEXT.takenFromUnderIt}>{(report.accepted * 100).toFixed(0)} %</Fact>
          <Fact name={TEXT.solved}>{(report.solved * 100).toFixed(0)} %</Fact>
          {report.hangs > 0 && <Fact name={TEXT.sharedByBothLegs}>{TEXT.vertices(report.hangs)}</Fact>}
          {report.legs && (
            <Fact name={TEXT.worstBetweenThem}>
              <Hint text={TEXT.byWeightsAloneStriding}>
                <span>
                  {report.legs.stretch.toFixed(1)} {TEXT.times}
                  {report.legs.depth_mm > 0 && TEXT.legsMmThrough(report.legs.depth_mm.toFixed(0))}
                </span>
              </Hint>
            </Fact>
          )}
        </>
      )}
      <Fact name={TEXT.joints}>{TEXT.atMostAVertex(report.joints, report.most)}</Fact>
    </dl>
  );
}
