import { api } from "../client";
import { useServerChange } from "../hooks";
import type { components } from "../schema";

export type Settings = components["schemas"]["Settings"];

/** Keeps other settings of the open production. */
export function useChangeSettings() {
  return useServerChange(
    (settings: Settings) => api.PUT("/api/production/settings", { body: settings }),
    ["settings", "trial"],
  );
}
