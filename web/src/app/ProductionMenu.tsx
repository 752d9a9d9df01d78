import { ChevronDown } from "lucide-react";
import { useRoomOf } from "../store/room";
import { goOnTour } from "../store/tour";
import { Menu } from "../ui/Menu";
import { TEXT } from "./texts";

/** The name of the open production, and what can be done with it from every room. */
export function ProductionMenu({ name }: { name: string }) {
  const { set } = useRoomOf("set");
  return (
    <Menu
      label={TEXT.production(name)}
      heading={name}
      align="start"
      className="flex min-w-0 cursor-pointer items-center gap-1 text-soft hover:text-ink"
      acts={[
        [TEXT.workingCopies, () => set({ copies: true })],
        [TEXT.settings, () => set({ settings: true })],
        [TEXT.tour, goOnTour],
        [TEXT.allProductions, () => set({ place: "productions" })],
      ]}
    >
      <span className="hidden min-w-0 truncate xl:inline">{name}</span>
      <ChevronDown size={14} className="shrink-0" />
    </Menu>
  );
}
