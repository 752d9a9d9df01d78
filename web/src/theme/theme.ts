import { useSyncExternalStore } from "react";

const KEPT = "theme";
const dark = () => matchMedia("(prefers-color-scheme: dark)");
const told = new Set<() => void>();

/** Light the page as the artist last chose, or as the system is set, and go on doing so. */
export function lightPage(): void {
  show();
  dark().addEventListener("change", show);
}

/** Choose day or lamp light; what the system is set to anyway is not kept, so that it is followed from then on. */
export function chooseLamp(lamp: boolean): void {
  if (lamp === dark().matches) localStorage.removeItem(KEPT);
  else localStorage.setItem(KEPT, lamp ? "lamp" : "day");
  show();
}

/** Whether the page is lit by lamp light. */
export function useLamp(): boolean {
  return useSyncExternalStore((changed) => {
    told.add(changed);
    return () => told.delete(changed);
  }, isLamp);
}

function isLamp(): boolean {
  const chosen = localStorage.getItem(KEPT);
  return chosen ? chosen === "lamp" : dark().matches;
}

function show(): void {
  document.documentElement.toggleAttribute("data-lamp", isLamp());
  for (const changed of told) changed();
}
