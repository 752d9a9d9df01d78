import { Hint } from "../../../ui/controls";
import { Fact } from "../../Fact";
import type { BindProps } from "./BindPanel";

/** Where the weights came from, and how many joints they name. */
export function BindFacts({ report }: { report: NonNullable<BindProps["piece"]["report"]["bind"]> }) {
  return (
    <dl className="mt-2 border-t border-dashed border-rule pt-1.5">
      {report.carried_by ? (
        <Fact name="Carried by">
          {report.carried_by}
          {report.spring &&
            `, ${report.links} ${report.links === 1 ? "link" : "links"} of ${(report.length_mm / Math.max(report.links, 1) / 10).toFixed(1)} cm`}
        </Fact>
      ) : report.own ? (
        <Fact name="Weights">{report.joints_unknown.length ? "its own, in part" : "its own"}</Fact>
      ) : (
        <>
          <Fact name="Taken from under it">{(report.accepted * 100).toFixed(0)} %</Fact>
          <Fact name="Solved">{(report.solved * 100).toFixed(0)} %</Fact>
          {report.hangs > 0 && <Fact name="Shared by both legs">{report.hangs} vertices</Fact>}
          {report.legs && (
            <Fact name="Worst between them">
              <Hint text="By weights alone, striding, sitting and kneeling; cleared for a pose, a skirt falls into it">
                <span>
                  {report.legs.stretch.toFixed(1)} times
                  {report.legs.depth_mm > 0 && `, legs ${report.legs.depth_mm.toFixed(0)} mm through`}
                </span>
              </Hint>
            </Fact>
          )}
        </>
      )}
      <Fact name="Joints">
        {report.joints}, at most {report.most} a vertex
      </Fact>
    </dl>
  );
}
