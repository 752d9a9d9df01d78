import { ImageUp } from "lucide-react";
import type { Piece } from "../../../api/client";
import { useRelink } from "../../../api/hooks";
import { useRoom } from "../../../store/room";
import { FileButton } from "../../../ui/FileButton";
import { TEXT } from "./texts";

/** Pictures the piece asks for that did not come: choose them, they are told by their names. */
export function MissingTextures({ piece, missing }: { piece: Piece; missing: string[] }) {
  const relink = useRelink();
  const say = useRoom((s) => s.say);
  return (
    <div className="mt-1 border-l-2 border-amber pl-2">
      <p className="text-[12px]">
        {TEXT.asksFor} <span className="font-semibold">{missing.join(", ")}</span>
      </p>
      <FileButton
        label={TEXT.textureFiles}
        accept=".png,.jpg,.jpeg,.webp,.exr"
        className="px-0 py-0.5 text-heron"
        disabled={relink.isPending}
        onFiles={(files) =>
          relink.mutate(
            { piece: piece.id, files },
            { onSuccess: (found) => say({ kind: "done", text: TEXT.foundAgain(found.linked.join(", ")) }) },
          )
        }
      >
        <ImageUp size={13} /> {TEXT.chooseThePictures}
      </FileButton>
    </div>
  );
}
