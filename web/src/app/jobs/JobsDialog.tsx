import { useJobs } from "../../api/jobs";
import { useProductions } from "../../api/production/productions";
import { useRoomOf } from "../../store/room";
import { DialogFrame } from "../../ui/DialogFrame";
import { JobRow } from "./JobRow";
import { TEXT } from "./texts";

/** Everything the workers do, in all productions: what, for whom, since when, how far. */
export default function JobsDialog() {
  const { set } = useRoomOf("set");
  const { data, error } = useJobs(true);
  const { data: productions } = useProductions();
  const now = new Date();
  return (
    <DialogFrame
      title={TEXT.jobs}
      hint={TEXT.hint}
      className="max-h-[min(640px,88vh)] w-[min(720px,94vw)]"
      onClose={() => set({ jobs: false })}
    >
      {data?.length ? (
        <ul className="min-h-0 overflow-y-auto px-5 py-2">
          {data.map((job) => (
            <JobRow
              key={job.job}
              job={job}
              production={productions?.find((p) => p.id === job.production)?.name ?? ""}
              now={now}
            />
          ))}
        </ul>
      ) : (
        <p className="p-6 text-soft">{error?.message ?? (data ? TEXT.none : TEXT.reading)}</p>
      )}
    </DialogFrame>
  );
}
