import { type BenchStep, KINDS } from "../recipe/recipe";
import { type Room, useRoom } from "../store/room";

const PLACES = ["productions", "fitting", "table", "stock", "packing"] as const;
/** What of the room stands in its address. */
export type Addressed = Pick<Room, "production" | "place" | "wearer" | "pose" | "piece" | "step" | "sheet" | "apart">;
const START = { place: "productions", pose: "stand" } as const;
/** A change of these is a step that Back takes back; the wearer and the pose are turned through too fast for that. */
const STEPS = ["place", "piece", "step", "sheet", "apart"] as const;

/** The address of a room: `/fitting?production=1&wearer=2&pose=sit&piece=5&step=fit`, `/stock/apart/3?production=1`, `/productions`. What is
 * as at first is left out. */
export function addressOf(room: Addressed): string {
  const told = new URLSearchParams();
  if (room.production !== null && room.place !== "productions") told.set("production", String(room.production));
  if (room.place === "fitting") {
    if (room.wearer !== null) told.set("wearer", String(room.wearer));
    if (room.pose !== START.pose) told.set("pose", room.pose);
    if (room.piece !== null) told.set("piece", String(room.piece));
    if (room.step !== null) told.set("step", room.step);
    if (room.sheet) told.set("sheet", "open");
  }
  const query = told.toString();
  const part = room.place === "stock" && room.apart !== null ? `/apart/${room.apart}` : "";
  return `/${room.place}${part}${query && `?${query}`}`;
}

/** What an address says of the room; what it leaves out or says wrongly is as at first. What it does not concern stays as it is. */
export function roomAt(path: string, query: string): Partial<Addressed> {
  const [place, part, id] = path.split("/").filter(Boolean);
  const asked = new URLSearchParams(query);
  const known = PLACES.find((p) => p === place) ?? START.place;
  if (known === "productions") return { place: known };
  const production = numberOf(asked.get("production"));
  if (known !== "fitting")
    return { production, place: known, ...(known === "stock" && { apart: part === "apart" ? numberOf(id) : null }) };
  return {
    production,
    place: known,
    wearer: numberOf(asked.get("wearer")),
    pose: asked.get("pose") || START.pose,
    piece: numberOf(asked.get("piece")),
    step: KINDS.find((kind): kind is BenchStep => kind === asked.get("step")) ?? null,
    sheet: asked.get("sheet") === "open",
  };
}

function numberOf(text: string | null | undefined): number | null {
  return text && /^\d{1,9}$/.test(text) ? Number(text) : null;
}

/** Open the room at the address of the page, and keep the two alike from now on: Back and Forward go through the rooms. */
export function followAddress(): void {
  const here = () => roomAt(location.pathname, location.search);
  const enter = () => useRoom.getState().set(here());
  enter();
  history.replaceState(null, "", addressOf(useRoom.getState()));
  window.addEventListener("popstate", enter);
  useRoom.subscribe((room, before) => {
    const address = addressOf(room);
    if (address === location.pathname + location.search) return; // nothing of it has changed, or Back has brought us here
    const turned = STEPS.some((field) => room[field] !== before[field]);
    history[turned ? "pushState" : "replaceState"](null, "", address);
  });
}
