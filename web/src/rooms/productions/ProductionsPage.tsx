import { Plus } from "lucide-react";
import { type ReactNode, useState } from "react";
import { enter, useChangeProductions, useProductions } from "../../api/production/productions";
import { ACCEPT } from "../../api/wire/uploads";
import { useRoom } from "../../store/room";
import { Button } from "../../ui/controls";
import { FileButton } from "../../ui/FileButton";
import { Lamp, Wordmark } from "../../ui/Lamp";
import { NameForm } from "../../ui/NameForm";
import { Bin } from "./Bin";
import { FirstStart } from "./FirstStart";
import { ProductionCard } from "./ProductionCard";
import { TEXT } from "./texts";

/** The first page: every production of the studio; `tools` stand in its top bar. */
export function ProductionsPage({ tools }: { tools?: ReactNode }) {
  const { data, error } = useProductions();
  const { begin, beginWith, unpack } = useChangeProductions();
  const [beginning, setBeginning] = useState(false);
  const [find, setFind] = useState("");
  const say = useRoom((s) => s.say);
  const standing = data?.filter((p) => !p.binned_at) ?? [];
  const first = data !== undefined && !standing.length;
  const shown = standing.filter((p) => p.name.toLowerCase().includes(find.trim().toLowerCase()));
  return (
    <div className="grid h-full grid-rows-[46px_minmax(0,1fr)]">
      <header className="flex items-center border-b border-rule bg-card px-4">
        <Wordmark />
        <span className="ml-auto flex items-center gap-2.5">
          {tools}
          <Lamp />
        </span>
      </header>
      <main className="min-h-0 overflow-y-auto px-8 py-7">
        <div className="mx-auto max-w-[1180px]">
          <div className="flex flex-wrap items-center gap-3">
            <h1 className="mr-auto font-title text-[26px] font-semibold">{TEXT.productions}</h1>
            {standing.length > 6 && (
              <input
                aria-label={TEXT.findProduction}
                placeholder={TEXT.findProduction}
                value={find}
                onChange={(e) => setFind(e.target.value)}
                className="w-52 rounded-[3px] border border-rule bg-card px-2.5 py-1.5"
              />
            )}
            <FileButton
              label={TEXT.unpack}
              accept=".zip"
              disabled={unpack.isPending}
              onFiles={([file]) =>
                file && unpack.mutate(file, { onSuccess: () => say({ kind: "done", text: TEXT.unpacked }) })
              }
            >
              {unpack.isPending ? TEXT.unpacking : TEXT.unpack}
            </FileButton>
            {!first && (
              <>
                <FileButton
                  label={TEXT.beginWithFile}
                  accept={ACCEPT}
                  disabled={beginWith.isPending}
                  onFiles={(files) => beginWith.mutate(files)}
                >
                  {beginWith.isPending ? TEXT.bringingIn : TEXT.beginWithFile}
                </FileButton>
                <Button look="primary" onClick={() => setBeginning(true)}>
                  <Plus size={14} /> {TEXT.beginOne}
                </Button>
              </>
            )}
          </div>
          {beginning && (
            <div className="mt-4 border-y border-rule py-3">
              <NameForm
                act={TEXT.begin}
                onName={(name) => begin.mutate(name, { onSuccess: (made) => made?.id && enter(made.id) })}
                onCancel={() => setBeginning(false)}
              />
            </div>
          )}
          {error && <p className="mt-6 text-soft">{error.message}</p>}
          {!data && !error && <p className="mt-6 text-soft">{TEXT.opening}</p>}
          {first && !beginning && <FirstStart onBegin={() => setBeginning(true)} />}
          {standing.length > 0 && !shown.length && <p className="mt-8 text-soft">{TEXT.noneByThatName}</p>}
          <ul className="mt-6 grid grid-cols-[repeat(auto-fill,minmax(330px,1fr))] gap-5">
            {shown.map((production) => (
              <ProductionCard key={production.id} production={production} />
            ))}
          </ul>
          <Bin binned={data?.filter((p) => p.binned_at) ?? []} />
        </div>
      </main>
    </div>
  );
}
