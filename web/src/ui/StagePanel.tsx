import { X } from "lucide-react";
import type { ReactNode } from "react";
import { useRoom } from "../store/room";
import { Button, Hint } from "./controls";
import { TEXT } from "./texts";

/** A panel that lies on the stage, at hand beside the figure. */
export function StagePanel(props: {
  title: string;
  label: string;
  tools?: ReactNode;
  onClose?(): void;
  children: ReactNode;
}) {
  const set = useRoom((s) => s.set);
  return (
    <section
      aria-label={props.label}
      className="absolute top-[76px] left-4 max-h-[calc(100%-150px)] w-[236px] overflow-y-auto rounded-[4px] border border-rule bg-card/95 px-3.5 pt-2.5 pb-3"
    >
      <header className="sticky -top-2.5 z-10 -mx-3.5 -mt-2.5 flex items-center bg-card px-3.5 pt-2.5 pb-1">
        <h2 className="font-title text-[15px] font-semibold">{props.title}</h2>
        <span className="ml-auto flex">
          {props.tools}
          <Button
            look="quiet"
            className="px-1"
            aria-label={TEXT.close}
            onClick={props.onClose ?? (() => set({ panel: null, tape: null }))}
          >
            <X size={15} />
          </Button>
        </span>
      </header>
      {props.children}
    </section>
  );
}

/** A small tool in a panel's head: an icon with its word as a hint. */
export function PanelTool(props: {
  name: string;
  hint?: string;
  disabled?: boolean;
  onClick(): void;
  children: ReactNode;
}) {
  return (
    <Hint text={props.hint ?? props.name}>
      <Button look="quiet" className="px-1" aria-label={props.name} disabled={props.disabled} onClick={props.onClick}>
        {props.children}
      </Button>
    </Hint>
  );
}
