import clsx from "clsx";
import { type JobLine, useChangeJobs } from "../../api/jobs";
import { Button } from "../../ui/controls";
import { howLong } from "./howLong";
import { KIND } from "./kinds";
import { TEXT } from "./texts";

interface Props {
  job: JobLine;
  /** The name of its production, "" where it is of none. */
  production: string;
  now: Date;
}

/** One job, or the jobs of one run: what it does, how far it is, and the one thing to do about it. */
export function JobRow({ job, production, now }: Props) {
  const { stop, again, dismiss } = useChangeJobs();
  const failed = job.state === "failed";
  const from = job.begun_at ?? job.asked_at;
  const time = from ? howLong(new Date(from), now) : "";
  const state = {
    doing: TEXT.since(time),
    waiting: TEXT.waits(time),
    stopping: TEXT.stopping,
    failed: job.why ?? TEXT.failedAlone,
  }[job.state];
  return (
    <li className="flex items-center gap-4 border-b border-dashed border-rule py-2 last:border-0">
      <div className="min-w-0 flex-1">
        <p className="truncate">
          <span className="font-semibold">{KIND[job.task] ?? job.task}</span>
          {job.subject && ` · ${job.subject}`}
        </p>
        <p className="truncate text-[12.5px] text-soft">
          {[production, job.author, state].filter(Boolean).join(" · ")}
          {!failed && !job.total && job.count > 1 && ` · ${TEXT.left(job.count)}`}
        </p>
      </div>
      {job.total > 0 && !failed && (
        <div className="w-32 shrink-0">
          <p className="text-right text-[12px] text-soft tabular-nums">{TEXT.of(job.done, job.total)}</p>
          <div className="mt-1 h-[3px] bg-chalk">
            <div
              className={clsx("h-full", job.state === "waiting" ? "bg-soft" : "bg-heron")}
              style={{ width: `${(100 * job.done) / job.total}%` }}
            />
          </div>
        </div>
      )}
      {job.can_stop && (
        <Button disabled={stop.isPending} onClick={() => stop.mutate(job.job)}>
          {TEXT.stop}
        </Button>
      )}
      {failed && (
        <>
          <Button disabled={again.isPending} onClick={() => again.mutate(job.job)}>
            {TEXT.again}
          </Button>
          <Button look="quiet" disabled={dismiss.isPending} onClick={() => dismiss.mutate(job.job)}>
            {TEXT.dismiss}
          </Button>
        </>
      )}
    </li>
  );
}
