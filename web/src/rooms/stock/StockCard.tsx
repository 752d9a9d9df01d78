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
import { TEXT } from "./texts";

const FORMATS = [".glb", ".obj", ".usdz", ".usdc", ".usda", ".ply", ".stl"];
const ACT: Partial<Record<StockItem["kind"], [string, typeof Play]>> = {
  piece: [TEXT.putOnTheRail, Shirt],
  body: [TEXT.addToTheCast, UserPlus],
  pose: [TEXT.putOnThePose, Play],
  motion: [TEXT.playOnTheStage, Play],
  extra: [TEXT.giveToTheWearer, UserPlus],
};

/** What is written on a card, and what can be done with what it stands for. */
export function StockCard({ item, shelves, wearer }: { item: StockItem; shelves: Shelf[]; wearer: number | null }) {
  const { write, dress, use, restore } = useStocking();
  const { many } = useOrdering();
  const { set, say, dressAtOnce } = useRoom.getState();
  const [colourway, setColourway] = useState<string | null>(null);
  const act = () => {
    if (item.kind === "piece")
      dress.mutate(
        { item: item.id, wearer, colourway, at_once: dressAtOnce },
        {
          onSuccess: (piece) => {
            set({ place: "fitting", piece: piece.id, step: dressAtOnce ? null : "receive", map: "cloth" });
            say({ kind: "done", text: (dressAtOnce ? TEXT.isBeingPutOn : TEXT.hangsOnTheRail)(item.name) });
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
          aria-label={item.favourite ? TEXT.noFavouriteAnyMore : TEXT.makeItAFavourite}
          className="cursor-pointer pt-1 text-heron"
          onClick={() => write.mutate({ item: item.id, favourite: !item.favourite })}
        >
          <Heart size={16} className={item.favourite ? "fill-heron" : ""} />
        </button>
      </div>
      {item.retired ? (
        <Button className="mt-3 w-full" onClick={() => restore.mutate(item.id)}>
          <ArchiveRestore size={14} /> {TEXT.bringBackIntoStock}
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
        <Fact name={TEXT.kind}>{item.kind === "piece" ? item.category : item.kind}</Fact>
        <Fact name={TEXT.file}>{item.file_name}</Fact>
        <Fact name={TEXT.size}>
          {item.vertices > 0 && TEXT.vertices(item.vertices.toLocaleString("en"))}
          {(item.size_bytes / 1024).toFixed(0)} {TEXT.kb}
        </Fact>
        {item.kind === "piece" && <Fact name={TEXT.madeFor}>{item.made_for ?? TEXT.theHousesFigureOr}</Fact>}
        <Fact name={TEXT.version}>{item.version}</Fact>
        {item.kind === "piece" && (
          <Fact name={TEXT.wornAs}>{item.used_by.length ? item.used_by.join(", ") : TEXT.inNoOutfit}</Fact>
        )}
        {item.kind === "piece" && (
          <Fact name={TEXT.toMend2}>{item.findings === 0 ? "nothing" : TEXT.kindsOfDamage(item.findings)}</Fact>
        )}
        <Fact name={TEXT.takenIn}>{TEXT.by(new Date(item.added_at).toLocaleDateString("en-GB"), item.added_by)}</Fact>
        <div className="flex items-center justify-between gap-3 py-0.5">
          <dt className="text-soft">{TEXT.shelf2}</dt>
          <dd>
            <Select
              label={TEXT.shelf2}
              className="max-w-40"
              value={item.shelf_id ?? ""}
              onChoose={(v) =>
                many.mutate(v ? { items: [item.id], shelf: Number(v) } : { items: [item.id], off_shelf: true })
              }
            >
              <option value="">{TEXT.none}</option>
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
      <PanelButtons item={item} />
    </div>
  );
}

/** What the artist writes on the card; kept when the field is left. */
function Written({ item }: { item: StockItem }) {
  const { write } = useStocking();
  const field = "w-full rounded-[3px] border border-rule bg-paper/40 px-1.5 py-1 text-[13px] text-ink";
  const fields: [keyof Pick<StockItem, "name" | "origin" | "licence">, string, number][] = [
    ["name", TEXT.name, 60],
    ["origin", TEXT.from, 200],
    ["licence", TEXT.licence, 200],
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
        {TEXT.tagsWithCommasBetween}
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
        {TEXT.note}
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

function PanelButtons({ item }: { item: StockItem }) {
  const { retire, duplicate, replace, fabric } = useStocking();
  const say = useRoom((s) => s.say);
  if (item.retired) return null;
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-3">
      <Button look="quiet" className="px-0" onClick={() => retire.mutate(item.id)}>
        <Archive size={14} /> {TEXT.retire}
      </Button>
      {item.kind === "texture" && (
        <Button
          look="quiet"
          className="px-0"
          onClick={() =>
            fabric.mutate(
              { name: item.name, texture: item.id },
              {
                onSuccess: () => say({ kind: "done", text: TEXT.isAFabricNow(item.name) }),
              },
            )
          }
        >
          <Copy size={14} /> {TEXT.makeAFabricOf}
        </Button>
      )}
      {item.kind === "piece" && (
        <>
          <Button look="quiet" className="px-0" onClick={() => duplicate.mutate(item.id)}>
            <Copy size={14} /> {TEXT.duplicate}
          </Button>
          <FileButton
            label={TEXT.fileOfTheNewer}
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
                      text: TEXT.isAtVersionOn(item.name, done.version, done.pieces.length),
                    }),
                },
              )
            }
          >
            <RefreshCw size={14} /> {TEXT.newerVersion}
          </FileButton>
          <label className="flex items-center gap-1 py-1 text-soft hover:text-ink">
            <Download size={14} />
            <Select
              label={TEXT.saveAs}
              value=""
              onChoose={(v) => {
                window.location.href = `/api/stock/${item.id}/file?ending=${v}`;
              }}
            >
              <option value="" disabled>
                {TEXT.saveAs2}
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
