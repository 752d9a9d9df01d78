import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import type { Production } from "../../api/client";
import { useHistory, useTrial } from "../../api/hooks";
import type { Fitting } from "../../bench/useFitting";
import { KINDS, LABEL } from "../../recipe/recipe";
import { useRoom, useRoomOf } from "../../store/room";

/** Every command, wearer, pose and piece by name. */
export default function FindOrDo({ production, fitting }: { production: Production; fitting: Fitting }) {
  const { set } = useRoomOf("set");
  const { start } = useTrial();
  const { undo, redo } = useHistory();
  const then = (work: () => void) => () => {
    set({ find: false });
    work();
  };
  const items: [string, string, () => void][] = [
    ...production.cast.map((w): [string, string, () => void] => [
      "wearer",
      w.name,
      () => set({ wearer: w.id, live: null }),
    ]),
    ...production.poses.map((p): [string, string, () => void] => ["pose", p.label, () => set({ pose: p.name })]),
    ...production.pieces.map((p): [string, string, () => void] => ["piece", p.name, () => set({ piece: p.id })]),
    ...KINDS.map((k): [string, string, () => void] => ["step", LABEL[k], () => set({ step: k })]),
    [
      "do",
      "Measure the trial sheet",
      () => start.mutate(undefined as never, { onSuccess: () => set({ sheet: true }) }),
    ],
    ["do", "Unfold the trial sheet", () => set({ sheet: true })],
    ["do", "Shape of this wearer", () => set({ panel: "shape" })],
    ["do", "Measures of this wearer", () => set({ panel: "measures" })],
    ["do", "Go to the stockroom", () => set({ place: "stock" })],
    ["do", "Pose library", () => set({ panel: "poses" })],
    ["do", "Show clearance", () => set({ map: "clearance" })],
    ["do", "Wear on the whole cast", () => set({ panel: "wear" })],
    ["do", "Bend test", () => set({ step: "bind", bending: useRoom.getState().bending + 1 })],
    ["do", "Show weights", () => set({ map: "weights" })],
    ["do", "Show cloth", () => set({ map: "cloth" })],
    ...production.shots.map((s): [string, string, () => void] => [
      "do",
      `Look through ${s.shot.name}`,
      () => set({ panel: "shots", shot: s.id }),
    ]),
    ["do", "Look from the front", () => set({ yaw: 0 })],
    ["do", "Look from the side", () => set({ yaw: Math.PI / 2 })],
    ["do", "Look from the back", () => set({ yaw: Math.PI })],
    ["do", "Undo", () => fitting.piece?.undo_label && undo.mutate(fitting.piece.id)],
    ["do", "Redo", () => fitting.piece?.redo_label && redo.mutate(fitting.piece.id)],
    ["do", "Pack the outfit", () => set({ place: "packing" })],
  ];
  return (
    <Dialog.Root open onOpenChange={(open) => set({ find: open })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          className="fixed top-[14%] left-1/2 z-50 w-[460px] -translate-x-1/2 rounded-[5px] border border-rule bg-card shadow-lg"
          aria-describedby={undefined}
        >
          <Dialog.Title className="sr-only">Find or do</Dialog.Title>
          <Command label="Find or do" loop>
            <Command.Input
              autoFocus
              placeholder="A wearer, a pose, a piece, or what to do…"
              className="w-full border-b border-rule bg-transparent px-4 py-3 text-[15px] outline-none"
            />
            <Command.List className="max-h-80 overflow-y-auto p-1.5">
              <Command.Empty className="px-3 py-4 text-soft">Nothing by that name.</Command.Empty>
              {items.map(([kind, label, work]) => (
                <Command.Item
                  key={`${kind} ${label}`}
                  value={`${label} ${kind}`}
                  onSelect={then(work)}
                  className="flex cursor-pointer justify-between rounded-[3px] px-3 py-1.5 data-[selected=true]:bg-chalk"
                >
                  <span>{label}</span>
                  <span className="text-soft">{kind}</span>
                </Command.Item>
              ))}
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
