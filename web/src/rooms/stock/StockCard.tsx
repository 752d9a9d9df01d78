import { Archive, ArchiveRestore, Copy, Download, Heart, Play, RefreshCw, Shirt, UserPlus } from "lucide-react";
import { type ReactNode, useState } from "react";
import { type Shelf, type StockItem, useOrdering, useStocking } from "../../api/stock";
import { ACCEPT } from "../../api/wire/uploads";
import { useRoom } from "../../store/room";
import { Button } from "../../ui/controls";
import { FileButton } from "../../ui/FileButton";
import { Select } from "../../ui/Select";
import { ColourwayList } from "./Colourways";
import { Turning } from "./StockTile";

const FORMATS = [".glb", ".obj", ".usdz", ".usdc", ".usda", ".ply", ".stl"];
const ACT: Partial<Record<StockItem["kind"], [string, typeof Play]>> = {
  piece: ["Put on the rail", Shirt],
  body: ["Add to the cast", UserPlus],
  pose: ["Put on the pose axis", Play],
  motion: ["Play on the stage", Play],
  extra: ["Give to the wearer", UserPlus],
};

/** What is written on a card, and what can be done with what it stands for. */
export function StockCard({ item, shelves, wearer }: { item: StockItem; shelves: Shelf[]; wearer: number | null }) {
  const { write, dress, use, restore } = useStocking();
  const { many } = useOrdering();
  const { set, say } = useRoom.getState();
  const [colourway, setColourway] = useState<string | null>(null);
  const act = () => {
    if (item.kind === "piece")
      dress.mutate(
        { item: item.id, wearer, colourway },
        {
          onSuccess: (piece) => {
            set({ place: "fitting", piece: piece.id, step: "receive", map: "cloth" });
            say({ kind: "done", text: `${item.name} hangs on the rail; look at what was found, then place it.` });
          },
        },
      );
    else
      use.mutate(
        { item: item.id, wearer },
        {
          onSuccess: (done) => {
            set({
              place: "fitting",
              ...(done.wearer && { wearer: done.wearer }),
              ...(done.pose && { pose: done.pose }),
            });
            if (done.motion) set({ motion: done.motion });
            say({ kind: "done", text: done.said });
          },
        },
      );
  };
  const [word, Icon] = ACT[item.kind] ?? ["", Play];
  return (
    <div className="text-[13px]">
      <Turning strip={item.strip} className="mx-auto max-w-[200px]" />
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
        word && (
          <Button look="primary" className="mt-3 w-full" disabled={dress.isPending || use.isPending} onClick={act}>
            <Icon size={14} /> {word}
          </Button>
        )
      )}
      {item.kind === "piece" && <ColourwayList item={item} worn={colourway} onWear={setColourway} />}
      <dl className="mt-3 border-t border-dashed border-rule pt-2">
        <Fact name="Kind">{item.kind === "piece" ? item.category : item.kind}</Fact>
        <Fact name="File">{item.file_name}</Fact>
        <Fact name="Size">
          {item.vertices > 0 && `${item.vertices.toLocaleString("en")} vertices · `}
          {(item.size_bytes / 1024).toFixed(0)} kB
        </Fact>
        {item.kind === "piece" && <Fact name="Made for">{item.made_for ?? "the house's figure, or unknown"}</Fact>}
        <Fact name="Version">{item.version}</Fact>
        {item.kind === "piece" && (
          <Fact name="Worn as">{item.used_by.length ? item.used_by.join(", ") : "in no outfit"}</Fact>
        )}
        {item.kind === "piece" && (
          <Fact name="To mend">{item.findings === 0 ? "nothing" : `${item.findings} kinds of damage`}</Fact>
        )}
        <Fact name="Taken in">
          {new Date(item.added_at).toLocaleDateString("en-GB")} by {item.added_by}
        </Fact>
        <div className="flex items-center justify-between gap-3 py-0.5">
          <dt className="text-soft">Shelf</dt>
          <dd>
            <Select
              label="Shelf"
              className="max-w-40"
              value={item.shelf_id ?? ""}
              onChoose={(v) =>
                many.mutate(v ? { items: [item.id], shelf: Number(v) } : { items: [item.id], off_shelf: true })
              }
            >
              <option value="">none</option>
              {shelves.map((s) => (
                <option key={s.id} value={s.id}>
                  {s.name}
                </option>
              ))}
            </Select>
          </dd>
        </div>
      </dl>
      <Written item={item} />
      <Acts item={item} />
    </div>
  );
}

/** What the artist writes on the card; kept when the field is left. */
function Written({ item }: { item: StockItem }) {
  const { write } = useStocking();
  const field = "w-full rounded-[3px] border border-rule bg-paper/40 px-1.5 py-1 text-[13px] text-ink";
  const fields: [keyof Pick<StockItem, "name" | "origin" | "licence">, string, number][] = [
    ["name", "Name", 60],
    ["origin", "From", 200],
    ["licence", "Licence", 200],
  ];
  return (
    <div className="mt-2 flex flex-col gap-2 border-t border-dashed border-rule pt-2">
      {fields.map(([key, label, most]) => (
        <label key={key} className="text-[11.5px] text-soft">
          {label}
          <input
            className={field}
            defaultValue={item[key]}
            maxLength={most}
            onKeyDown={(e) => e.stopPropagation()}
            onBlur={(e) => e.target.value !== item[key] && write.mutate({ item: item.id, [key]: e.target.value })}
          />
        </label>
      ))}
      <label className="text-[11.5px] text-soft">
        Tags, with commas between
        <input
          className={field}
          defaultValue={item.tags.join(", ")}
          onKeyDown={(e) => e.stopPropagation()}
          onBlur={(e) =>
            e.target.value !== item.tags.join(", ") && write.mutate({ item: item.id, tags: e.target.value.split(",") })
          }
        />
      </label>
      <label className="text-[11.5px] text-soft">
        Note
        <textarea
          className={field}
          rows={2}
          defaultValue={item.note}
          maxLength={2000}
          onKeyDown={(e) => e.stopPropagation()}
          onBlur={(e) => e.target.value !== item.note && write.mutate({ item: item.id, note: e.target.value })}
        />
      </label>
    </div>
  );
}

function Acts({ item }: { item: StockItem }) {
  const { retire, duplicate, replace, fabric } = useStocking();
  const say = useRoom((s) => s.say);
  if (item.retired) return null;
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-3">
      <Button look="quiet" className="px-0" onClick={() => retire.mutate(item.id)}>
        <Archive size={14} /> Retire
      </Button>
      {item.kind === "texture" && (
        <Button
          look="quiet"
          className="px-0"
          onClick={() =>
            fabric.mutate(
              { name: item.name, texture: item.id },
              {
                onSuccess: () => say({ kind: "done", text: `${item.name} is a fabric now; choose it in a colourway.` }),
              },
            )
          }
        >
          <Copy size={14} /> Make a fabric of it
        </Button>
      )}
      {item.kind === "piece" && (
        <>
          <Button look="quiet" className="px-0" onClick={() => duplicate.mutate(item.id)}>
            <Copy size={14} /> Duplicate
          </Button>
          <FileButton
            label="File of the newer version"
            accept={ACCEPT}
            className="px-0"
            disabled={replace.isPending}
            onFiles={(files) =>
              replace.mutate(
                { item: item.id, files },
                {
                  onSuccess: (done) =>
                    say({
                      kind: "done",
                      text: `${item.name} is at version ${done.version}; ${done.pieces.length} on the rail run their steps again.`,
                    }),
                },
              )
            }
          >
            <RefreshCw size={14} /> Newer version
          </FileButton>
          <label className="flex items-center gap-1 py-1 text-soft hover:text-ink">
            <Download size={14} />
            <Select
              label="Save as"
              value=""
              onChoose={(v) => {
                window.location.href = `/api/stock/${item.id}/file?ending=${v}`;
              }}
            >
              <option value="" disabled>
                Save as…
              </option>
              {FORMATS.map((f) => (
                <option key={f} value={f}>
                  {f.slice(1)}
                </option>
              ))}
            </Select>
          </label>
        </>
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
