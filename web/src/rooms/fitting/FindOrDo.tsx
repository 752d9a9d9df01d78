import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import type { Production } from "../../api/client";
import { useHistory, useTrial } from "../../api/hooks";
import type { Fitting } from "../../bench/useFitting";
import { KINDS, LABEL } from "../../recipe/recipe";
import { closeUp } from "../../stage/closeUps";
import { useRoom, useRoomOf } from "../../store/room";
import { singleKeys, turnSingleKeys } from "../../store/singleKeys";
import { goOnTour } from "../../store/tour";
import { TEXT } from "./texts";

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
    ...fitting.rail.map((p): [string, string, () => void] => ["piece", p.name, () => set({ piece: p.id })]),
    ...KINDS.map((k): [string, string, () => void] => ["step", LABEL[k], () => set({ step: k })]),
    ["do", TEXT.measureTheTrialSheet, () => start.mutate(undefined, { onSuccess: () => set({ sheet: true }) })],
    ["do", TEXT.unfoldTheTrialSheet, () => set({ sheet: true })],
    ["do", TEXT.shapeOfThisWearer2, () => set({ panel: "shape" })],
    ["do", TEXT.measuresOfThisWearer, () => set({ panel: "measures" })],
    ["do", TEXT.goToTheStockroom, () => set({ place: "stock" })],
    ["do", TEXT.poseLibrary, () => set({ panel: "poses" })],
    ["do", TEXT.showClearance, () => set({ map: "clearance" })],
    ["do", TEXT.wearOnTheWhole, () => set({ panel: "wear" })],
    ["do", TEXT.bendTest, () => set({ step: "bind", bending: useRoom.getState().bending + 1 })],
    ["do", TEXT.showWeights, () => set({ map: "weights" })],
    ["do", TEXT.showCloth, () => set({ map: "cloth" })],
    ...production.shots.map((s): [string, string, () => void] => [
      "do",
      TEXT.lookThrough(s.shot.name),
      () => set({ panel: "shots", shot: s.id }),
    ]),
    ["do", TEXT.lookFromTheFront, () => set({ yaw: 0 })],
    ["do", TEXT.lookFromTheSide, () => set({ yaw: Math.PI / 2 })],
    ["do", TEXT.lookFromTheBack, () => set({ yaw: Math.PI })],
    ...(["face", "hands", "feet"] as const).map((part): [string, string, () => void] => [
      "do",
      TEXT.lookAt(part),
      () => set(closeUp(fitting, part, useRoom.getState().target) ?? {}),
    ]),
    ["do", TEXT.lookAtTheWhole, () => set({ zoom: 1, target: null })],
    ["do", singleKeys() ? TEXT.singleKeysOff : TEXT.singleKeysOn, () => turnSingleKeys(!singleKeys())],
    ["do", TEXT.undo, () => fitting.piece?.undo_label && undo.mutate(fitting.piece.id)],
    ["do", TEXT.redo, () => fitting.piece?.redo_label && redo.mutate(fitting.piece.id)],
    ["do", TEXT.takeTheTour, goOnTour],
    ["do", TEXT.workingCopies, () => set({ copies: true })],
    ["do", TEXT.allProductions, () => set({ place: "productions" })],
    ["do", TEXT.packTheOutfit, () => set({ place: "packing" })],
  ];
  return (
    <Dialog.Root open onOpenChange={(open) => set({ find: open })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          className="fixed top-[14%] left-1/2 z-50 w-[460px] -translate-x-1/2 rounded-[5px] border border-rule bg-card shadow-lg"
          aria-describedby={undefined}
        >
          <Dialog.Title className="sr-only">{TEXT.findOrDo}</Dialog.Title>
          <Command label={TEXT.findOrDo} loop>
            <Command.Input
              autoFocus
              placeholder={TEXT.aWearerAPose}
              className="w-full border-b border-rule bg-transparent px-4 py-3 text-[15px] outline-none"
            />
            <Command.List className="max-h-80 overflow-y-auto p-1.5">
              <Command.Empty className="px-3 py-4 text-soft">{TEXT.nothingByThatName}</Command.Empty>
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
