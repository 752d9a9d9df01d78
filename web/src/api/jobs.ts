import { useQuery } from "@tanstack/react-query";
import { api, type Problem } from "./client";
import { useServerChange } from "./hooks";
import type { components } from "./schema";

export type JobLine = components["schemas"]["JobLineOut"];

const KEY = "jobs";
/** Milliseconds between two looks: while the list is read, and while only its number is. */
const READ = 1000;
const BESIDE = 5000;
const at = (job: number) => ({ params: { path: { job } } });

/** What is done, waits or has failed, in all productions. */
export function useJobs(read: boolean) {
  return useQuery<JobLine[], Problem>({
    queryKey: [KEY],
    queryFn: async () => (await api.GET("/api/jobs")).data as JobLine[],
    refetchInterval: read ? READ : BESIDE,
  });
}

export function useChangeJobs() {
  const stop = useServerChange((job: number) => api.POST("/api/jobs/{job}/stop", at(job)), [KEY]);
  const again = useServerChange((job: number) => api.POST("/api/jobs/{job}/again", at(job)), [KEY]);
  const dismiss = useServerChange((job: number) => api.DELETE("/api/jobs/{job}", at(job)), [KEY]);
  return { stop, again, dismiss };
}
