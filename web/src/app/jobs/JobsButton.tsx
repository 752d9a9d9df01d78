import clsx from "clsx";
import { ListChecks } from "lucide-react";
import { useJobs } from "../../api/jobs";
import { useRoomOf } from "../../store/room";
import { Hint } from "../../ui/controls";
import { TEXT } from "./texts";

/** Opens the list of jobs; says how many there are, and whether one has failed. */
export function JobsButton() {
  const { set } = useRoomOf("set");
  const { data } = useJobs(false);
  const failed = data?.filter((job) => job.state === "failed").length ?? 0;
  const under = (data?.length ?? 0) - failed;
  const text = failed ? TEXT.failed(failed) : under ? TEXT.under(under) : TEXT.jobs;
  return (
    <Hint text={text}>
      <button
        type="button"
        aria-label={text}
        className="flex cursor-pointer items-center gap-1 p-1 text-soft hover:text-ink"
        onClick={() => set({ jobs: true })}
      >
        <ListChecks size={16} className={clsx(failed && "text-amber")} />
        {under + failed > 0 && <span className="text-[12px] tabular-nums">{under + failed}</span>}
      </button>
    </Hint>
  );
}
