import type { DragEvent } from "react";
import type { Piece } from "../../api/client";
import { useBringIn, useDress } from "../../api/hooks";
import { droppedFiles, piecesAmong } from "../../api/wire/uploads";
import { useRoom } from "../../store/room";

/** Brings files in as a piece, and puts it on at once where the artist wants that. */
export function usePutOn() {
  const { files, several, practice } = useBringIn();
  const dress = useDress();
  const opened = (piece: Piece) => useRoom.getState().set({ piece: piece.id, step: "receive", map: "cloth" });
  const broughtIn = (piece: Piece) => {
    if (!useRoom.getState().dressAtOnce) return opened(piece);
    useRoom.getState().set({ piece: piece.id, step: null, map: "cloth" });
    dress.mutate(piece.id);
  };
  const bringIn = (list: FileList | File[] | null) => {
    const { wearer, dressAtOnce, set } = useRoom.getState();
    const chosen = [...(list ?? [])];
    if (piecesAmong(chosen).length > 1)
      several.mutate(
        { chosen, wearer, atOnce: dressAtOnce },
        { onSuccess: (pieces) => set({ piece: pieces.at(-1)?.id ?? null, step: null, map: "cloth" }) },
      );
    else if (chosen.length) files.mutate({ chosen, wearer }, { onSuccess: broughtIn });
  };
  return {
    pending: files.isPending || several.isPending,
    bringIn,
    /** The practice coat is there to go through the steps with: it is never put on at once. */
    practice: () => practice.mutate(useRoom.getState().wearer, { onSuccess: opened }),
    practicePending: practice.isPending,
    drop: (event: DragEvent) => {
      event.preventDefault();
      event.stopPropagation();
      droppedFiles(event.dataTransfer).then(bringIn);
    },
  };
}
