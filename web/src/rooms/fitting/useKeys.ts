import { useEffect } from "react";
import type { Production } from "../../api/client";
import { useHistory, useShapeHistory } from "../../api/hooks";
import { stepPosing } from "../../api/posing";
import type { Fitting } from "../../bench/useFitting";
import { closeUp } from "../../stage/closeUps";
import { useRoom } from "../../store/room";
import { singleKeys } from "../../store/singleKeys";

const STEP = Math.PI / 12;

/** Ctrl Z undoes what is open: the wearer's shape in its panels, else the piece. Arrows walk the sheet, Q/E turn, 1 2 3 look from front, side, back; 4 5 6 at face, hands, feet, 0 at the whole; C X B are glances while held; / finds. */
export function useKeys(production: Production, fitting: Fitting): void {
  const { undo, redo } = useHistory();
  const shapes = useShapeHistory();
  useEffect(() => {
    const room = useRoom.getState;
    const down = (event: KeyboardEvent) => {
      if (event.defaultPrevented) return; // a menu has taken it
      const target = event.target;
      const commands = event.ctrlKey || event.metaKey;
      const own = commands
        ? "input:not([type=range]), textarea, [role=dialog]"
        : "input, textarea, [role=dialog], [role=slider], [role=combobox], [role=listbox]";
      if (target instanceof Element && target.closest(own)) return;
      const { set, turn } = room();
      const key = event.key.toLowerCase();
      if (commands && (key === "z" || key === "y")) {
        event.preventDefault();
        const back = key === "z" && !event.shiftKey;
        if (room().posing) {
          stepPosing(back);
          return;
        }
        const { piece, wearer } = fitting;
        const panel = room().panel;
        if (wearer && (panel === "shape" || panel === "measures")) {
          if (back && wearer.can_undo) shapes.undo.mutate(wearer.id);
          if (!back && wearer.can_redo) shapes.redo.mutate(wearer.id);
          return;
        }
        if (!piece) return;
        if (back && piece.undo_label) undo.mutate(piece.id);
        if (!back && piece.redo_label) redo.mutate(piece.id);
        return;
      }
      if (commands || event.altKey) return;
      const walk = <T>(list: T[], at: T | undefined, by: number): T | undefined =>
        list[((at ? list.indexOf(at) : 0) + by + list.length) % list.length];
      const moves: Record<string, () => void> = {
        arrowup: () => set({ wearer: walk(production.cast, fitting.wearer, -1)?.id ?? null, live: null }),
        arrowdown: () => set({ wearer: walk(production.cast, fitting.wearer, 1)?.id ?? null, live: null }),
        arrowleft: () => set({ pose: walk(production.poses, fitting.chosen, -1)?.name ?? "stand" }),
        arrowright: () => set({ pose: walk(production.poses, fitting.chosen, 1)?.name ?? "stand" }),
        q: () => turn(-STEP),
        e: () => turn(STEP),
        "1": () => set({ yaw: 0, pitch: 0.04 }),
        "2": () => set({ yaw: Math.PI / 2, pitch: 0.04 }),
        "3": () => set({ yaw: Math.PI, pitch: 0.04 }),
        "4": () => set(closeUp(fitting, "face", room().target) ?? {}),
        "5": () => set(closeUp(fitting, "hands", room().target) ?? {}),
        "6": () => set(closeUp(fitting, "feet", room().target) ?? {}),
        "0": () => set({ zoom: 1, target: null }),
        c: () => set({ glance: "clearance" }),
        x: () => set({ glance: "through" }),
        b: () => set({ glance: "before" }),
        "/": () => set({ find: true }),
        k: () => {
          if (fitting.piece?.report.bind) set({ step: "bind", bending: room().bending + 1 });
        },
        s: () => set({ panel: room().panel === "shape" ? null : "shape" }),
        m: () => set({ panel: room().panel === "measures" ? null : "measures" }),
        p: () => set({ panel: room().panel === "poses" ? null : "poses" }),
        v: () => set({ panel: room().panel === "shots" ? null : "shots" }),
        escape: () =>
          room().posing
            ? set({ posing: null })
            : set({ sheet: false, find: false, panel: null, tape: null, motion: null }),
      };
      const move = key.length > 1 || singleKeys() ? moves[key] : undefined;
      if (!move || (event.repeat && "cxb".includes(key))) return;
      event.preventDefault();
      move();
    };
    const up = (event: KeyboardEvent) => {
      if ("cxb".includes(event.key.toLowerCase())) room().set({ glance: null });
    };
    const blur = () => room().set({ glance: null });
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", blur);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", blur);
    };
  }, [production, fitting, undo, redo, shapes]);
}
