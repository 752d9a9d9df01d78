import { ImageUp } from "lucide-react";
import { useRef } from "react";
import type { Piece } from "../../api/client";
import { useRelink } from "../../api/hooks";
import { useRoom } from "../../state/room";
import { Button } from "../../ui/controls";

/** Pictures the piece asks for that did not come: choose them, they are told by their names. */
export function MissingTextures({ piece, missing }: { piece: Piece; missing: string[] }) {
  const relink = useRelink();
  const say = useRoom((s) => s.say);
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="mt-1 border-l-2 border-amber pl-2">
      <p className="text-[12px]">
        Asks for <span className="font-semibold">{missing.join(", ")}</span>
      </p>
      <input
        ref={input}
        type="file"
        multiple
        accept=".png,.jpg,.jpeg,.webp,.exr"
        className="hidden"
        aria-label="Texture files"
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          if (files.length)
            relink.mutate(
              { piece: piece.id, files },
              { onSuccess: (found) => say({ kind: "done", text: `Found again: ${found.linked.join(", ")}.` }) },
            );
          e.target.value = "";
        }}
      />
      <Button
        look="quiet"
        className="px-0 py-0.5 text-heron"
        disabled={relink.isPending}
        onClick={() => input.current?.click()}
      >
        <ImageUp size={13} /> Choose the pictures
      </Button>
    </div>
  );
}
