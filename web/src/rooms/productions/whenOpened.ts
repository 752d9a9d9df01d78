import { TEXT } from "./texts";

/** When something was done, as one says it: today and yesterday with the hour, else the day. */
export function whenOpened(at: Date, now: Date): string {
  const day = (date: Date) => new Date(date.getFullYear(), date.getMonth(), date.getDate()).getTime();
  const days = Math.round((day(now) - day(at)) / 86_400_000);
  const hour = at.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  if (days === 0) return `${TEXT.today}, ${hour}`;
  if (days === 1) return `${TEXT.yesterday}, ${hour}`;
  return at.toLocaleDateString("en-GB", { day: "numeric", month: "long", year: "numeric" });
}
