import { ChevronDown } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useRoomOf } from "../store/room";
import { TEXT } from "./texts";

const ITEM = "cursor-pointer rounded-[3px] px-3 py-1.5 outline-none data-[highlighted]:bg-chalk";

/** The name of the open production, and what can be done with it from every room. */
export function ProductionMenu({ name }: { name: string }) {
  const { set } = useRoomOf("set");
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={TEXT.production(name)}
        className="flex min-w-0 cursor-pointer items-center gap-1 text-soft hover:text-ink"
      >
        <span className="hidden min-w-0 truncate xl:inline">{name}</span>
        <ChevronDown size={14} className="shrink-0" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={6}
          className="z-40 min-w-52 rounded-[4px] border border-rule bg-card p-1.5 shadow-lg"
        >
          <DropdownMenu.Label className="max-w-72 truncate px-3 pt-1 pb-2 font-title text-[15px] font-semibold">
            {name}
          </DropdownMenu.Label>
          <DropdownMenu.Item className={ITEM} onSelect={() => set({ copies: true })}>
            {TEXT.workingCopies}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => set({ place: "productions" })}>
            {TEXT.allProductions}
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
