import { Shirt, X } from "lucide-react";
import type { Production } from "../../api/client";
import { type Bundle, useOrdering } from "../../api/stock";
import { hangsFor } from "../../recipe/outfits";
import { useRoom } from "../../store/room";
import { Menu } from "../../ui/Menu";
import { Heading } from "./Heading";
import { TEXT } from "./texts";

interface Props {
  bundles: Bundle[];
  production: Production | undefined;
  wearer: number | null;
}

/** Pieces that belong together, dressed in one act. */
export function Bundles({ bundles, production, wearer }: Props) {
  const { dropBundle } = useOrdering();
  if (!bundles.length) return null;
  return (
    <section aria-label={TEXT.bundles}>
      <Heading>{TEXT.bundles}</Heading>
      {bundles.map((b) => (
        <div key={b.id} className="group flex items-center gap-1 py-1">
          <span className="min-w-0 flex-1 truncate" title={b.names.join(", ")}>
            {b.name}
          </span>
          <DressIt bundle={b} production={production} wearer={wearer} />
          <button
            type="button"
            aria-label={TEXT.undoTheBundle(b.name)}
            title={TEXT.undoTheBundleIts}
            className="cursor-pointer text-soft hover:text-ink"
            onClick={() => dropBundle.mutate(b.id)}
          >
            <X size={12} />
          </button>
        </div>
      ))}
    </section>
  );
}

const LOOK = "cursor-pointer text-heron disabled:opacity-45";

/** Dresses a bundle; where something is worn already it asks once: over that, or instead of it. */
function DressIt({ bundle, production, wearer }: Omit<Props, "bundles"> & { bundle: Bundle }) {
  const { dressBundle } = useOrdering();
  const { set, say } = useRoom.getState();
  const who = production?.cast.find((w) => w.id === wearer) ?? production?.cast[0];
  const worn = production?.pieces.some((p) => hangsFor(p, who)) ?? false;
  const dress = (instead: boolean) =>
    dressBundle.mutate(
      { number: bundle.id, wearer, at_once: useRoom.getState().dressAtOnce, instead },
      {
        onSuccess: (pieces) => {
          set({ place: "fitting", piece: pieces.at(-1)?.id ?? null });
          say({ kind: "done", text: TEXT.piecesHangOnThe(bundle.name, pieces.length) });
        },
      },
    );
  const title = TEXT.dress2(bundle.names.join(", "));
  if (!worn)
    return (
      <button
        type="button"
        aria-label={TEXT.dress(bundle.name)}
        title={title}
        disabled={dressBundle.isPending}
        className={LOOK}
        onClick={() => dress(false)}
      >
        <Shirt size={13} />
      </button>
    );
  return (
    <Menu
      label={TEXT.dress(bundle.name)}
      title={title}
      disabled={dressBundle.isPending}
      className={LOOK}
      acts={[
        [TEXT.overWhatIsWorn, () => dress(false)],
        [TEXT.insteadAsAnOutfit, () => dress(true)],
      ]}
    >
      <Shirt size={13} />
    </Menu>
  );
}
