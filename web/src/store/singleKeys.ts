const KEPT = "wily-heron.single-keys";

/** Whether a letter, a number or a sign pressed alone does something; the artist may have turned that off, on this machine. */
export const singleKeys = () => localStorage.getItem(KEPT) !== "off";

/** Turn keys that are pressed alone on or off; arrows, Escape and those with Ctrl stay. */
export function turnSingleKeys(on: boolean): void {
  if (on) localStorage.removeItem(KEPT);
  else localStorage.setItem(KEPT, "off");
}
