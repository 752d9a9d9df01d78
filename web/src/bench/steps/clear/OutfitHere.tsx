import type { Plan } from "../../../api/clearing";
import { usePlan } from "../../../api/clearing";
import type { Production } from "../../../api/client";
import { Button } from "../../../ui/controls";
import type { Fitting } from "../../useFitting";
import { TEXT } from "./texts";

interface Props {
  production: Production;
  fitting: Fitting;
}

/** What the plan in hand says of the cell it is for; a sheet's plan is told by the sheet. */
const ofCell = (plan: Plan | null, wearer: number | undefined, pose: string | undefined) =>
  plan?.cell &&
  plan.cell.wearer === wearer &&
  plan.cell.pose === pose &&
  plan.state !== "cancelled" &&
  plan.state !== "undone"
    ? plan
    : null;

/** All pieces of the rail cleared together in the cell on the stage: computed first, then carried out or put aside. */
export function OutfitHere({ production, fitting }: Props) {
  const { plan, busy, ...planning } = usePlan();
  const wearer = fitting.wearer?.id;
  const pose = fitting.pose?.name;
  const here = ofCell(plan, wearer, pose);
  const cell = here?.cells.find((c) => c.wearer === wearer && c.pose === pose);
  const beside = here?.cells.filter((c) => c !== cell && c.after_cm2 > c.before_cm2 + 0.02).length ?? 0;
  const shows = !!fitting.measured && !fitting.measured.figures.holds;
  const onAxis = production.poses.some((p) => p.name === pose);
  return (
    <div className="mt-2 border-t border-dashed border-rule pt-2">
      <div className="flex items-center gap-2">
        <span>{TEXT.theWholeOutfitHere}</span>
        {!here && (
          <Button
            className="ml-auto"
            disabled={busy || !shows || !onAxis || plan?.state === "planning"}
            onClick={() => wearer !== undefined && pose && planning.make({ wearer, pose })}
          >
            {TEXT.tryIt}
          </Button>
        )}
        {here?.state === "planning" && (
          <span className="ml-auto text-soft" aria-live="polite">
            {here.total ? TEXT.trying(Math.round((100 * here.done) / here.total)) : TEXT.waitingForAWorker}
          </span>
        )}
      </div>
      {!here && (
        <p className="text-[12px] text-soft">{shows ? TEXT.innerLayersArePressed : TEXT.nothingShowsThroughIn}</p>
      )}
      {here && here.state !== "planning" && (
        <>
          {cell && here.lines.length > 0 && (
            <p aria-live="polite">
              {cell.before_cm2.toFixed(2)} →{" "}
              <strong className="text-moss">{TEXT.cm2(cell.after_cm2.toFixed(2))}</strong>
              {here.state === "done" ? TEXT.carriedOut : ""}
            </p>
          )}
          <ul className="text-[12px]">
            {here.lines.map((line) => (
              <li key={`${line.piece}${line.words}`} className="flex justify-between gap-2">
                <span>{line.piece_name}</span>
                <span className="text-soft">
                  {line.greatest_move_mm >= 0.1 ? TEXT.movesMm(line.greatest_move_mm.toFixed(1)) : TEXT.skinGivesWay}
                </span>
              </li>
            ))}
          </ul>
          {here.why && <p className="text-[12px] text-soft">{here.why}</p>}
          {beside > 0 && (
            <p className="text-[12px] text-soft">
              {TEXT.aLittleMoreIn(beside, beside === 1 ? TEXT.wearerShows : TEXT.wearersShow)}
            </p>
          )}
          <div className="mt-1 flex flex-wrap gap-2">
            {here.state === "ready" && here.lines.length > 0 && (
              <Button look="primary" disabled={busy} onClick={() => planning.carryOut(here.id)}>
                {TEXT.carryItOut}
              </Button>
            )}
            {here.state === "done" && (
              <Button disabled={busy} onClick={() => planning.undo(here.id)}>
                {TEXT.takeItAllBack}
              </Button>
            )}
          </div>
        </>
      )}
      {here && here.state !== "done" && (
        <Button look="quiet" className="mt-1 px-1" onClick={() => planning.drop(here.id)}>
          {here.state === "planning" ? TEXT.stop : TEXT.putItAside}
        </Button>
      )}
    </div>
  );
}
