/** What the list of jobs says, in one place for an editor and for translation. */
export const TEXT = {
  again: "Try again",
  dismiss: "Take off the list",
  failed: (count: number) => (count === 1 ? "1 job failed" : `${count} jobs failed`),
  failedAlone: "Failed",
  hint: "Everything the workers do, in all productions. What is stopped keeps what is done.",
  jobs: "Jobs",
  left: (count: number) => (count === 1 ? "1 part left" : `${count} parts left`),
  none: "Nothing is being done, and nothing waits.",
  of: (done: number, total: number) => `${done} of ${total}`,
  reading: "Reading the list…",
  since: (time: string) => `for ${time}`,
  stop: "Stop",
  stopping: "Stopping…",
  under: (count: number) => (count === 1 ? "1 job" : `${count} jobs`),
  waits: (time: string) => `waits for ${time}`,
};
