import { Archive, ArchiveRestore, Heart, Shirt } from "lucide-react";
import { type ReactNode, useState } from "react";
import { type StockItem, useStocking } from "../../api/stock";
import { useRoom } from "../../state/room";
import { Button } from "../../ui/controls";
import { Turning } from "./StockTile";

/** What is written on a piece's card, and what can be done with the piece. */
export function StockCard({ item }: { item: StockItem }) {
  const { write, dress, retire, restore } = useStocking();
  const { set, say } = useRoom.getState();
  const [name, setName] = useState(item.name);
  const [tags, setTags] = useState(item.tags.join(", "));
  const [note, setNote] = useState(item.note);
  const wear = () =>
    dress.mutate(item.id, {
      onSuccess: (piece) => {
        set({ place: "fitting", piece: piece.id, step: "receive", map: "cloth" });
        say({ kind: "done", text: `${item.name} hangs on the rail; look at what was found, then place it.` });
      },
    });
  const field = "w-full rounded-[3px] border border-rule bg-paper/40 px-1.5 py-1 text-[13px] text-ink";
  return (
    <div className="text-[13px]">
      <Turning strip={item.strip} className="mx-auto max-w-[220px]" />
      <div className="mt-2 flex items-start gap-2">
        <h1 className="min-w-0 flex-1 font-title text-[19px] leading-tight font-semibold">{item.name}</h1>
        <button
          type="button"
          aria-pressed={item.favourite}
          aria-label={item.favourite ? "No favourite any more" : "Make it a favourite"}
          className="cursor-pointer pt-1 text-heron"
          onClick={() => write.mutate({ item: item.id, favourite: !item.favourite })}
        >
          <Heart size={16} className={item.favourite ? "fill-heron" : ""} />
        </button>
      </div>
      {item.retired ? (
        <Button className="mt-3 w-full" onClick={() => restore.mutate(item.id)}>
          <ArchiveRestore size={14} /> Bring back into stock
        </Button>
      ) : (
        <Button look="primary" className="mt-3 w-full" disabled={dress.isPending} onClick={wear}>
          <Shirt size={14} /> Put on the rail
        </Button>
      )}
      <dl className="mt-3 border-t border-dashed border-rule pt-2">
        <Fact name="Category">{item.category}</Fact>
        <Fact name="File">{item.file_name}</Fact>
        <Fact name="Size">
          {item.vertices.toLocaleString("en")} vertices · {(item.size_bytes / 1024).toFixed(0)} kB
        </Fact>
        <Fact name="From">{item.origin || "unknown"}</Fact>
        <Fact name="Licence">{item.licence || "not stated"}</Fact>
        <Fact name="Worn by">
          {item.used === 0 ? "no outfit" : item.used === 1 ? "this outfit" : `${item.used} pieces`}
        </Fact>
        <Fact name="To mend">{item.findings === 0 ? "nothing" : `${item.findings} kinds of damage`}</Fact>
        <Fact name="Taken in">
          {new Date(item.added_at).toLocaleDateString("en-GB")} by {item.added_by}
        </Fact>
      </dl>
      <div className="mt-3 flex flex-col gap-2 border-t border-dashed border-rule pt-2">
        <label className="text-[11.5px] text-soft">
          Name
          <input
            className={field}
            value={name}
            maxLength={60}
            onChange={(e) => setName(e.target.value)}
            onBlur={() => name.trim() && name !== item.name && write.mutate({ item: item.id, name: name.trim() })}
          />
        </label>
        <label className="text-[11.5px] text-soft">
          Tags, with commas between
          <input
            className={field}
            value={tags}
            onChange={(e) => setTags(e.target.value)}
            onBlur={() => tags !== item.tags.join(", ") && write.mutate({ item: item.id, tags: tags.split(",") })}
          />
        </label>
        <label className="text-[11.5px] text-soft">
          Note
          <textarea
            className={field}
            rows={2}
            value={note}
            maxLength={2000}
            onChange={(e) => setNote(e.target.value)}
            onBlur={() => note !== item.note && write.mutate({ item: item.id, note })}
          />
        </label>
      </div>
      {!item.retired && (
        <Button look="quiet" className="mt-2 px-0" onClick={() => retire.mutate(item.id)}>
          <Archive size={14} /> Retire
        </Button>
      )}
    </div>
  );
}

function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="flex justify-between gap-3 py-0.5">
      <dt className="whitespace-nowrap text-soft">{name}</dt>
      <dd className="min-w-0 truncate text-right">{children}</dd>
    </div>
  );
}
