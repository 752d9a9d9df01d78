import { Clapperboard, FileUp, Plus } from "lucide-react";
import type { ReactNode } from "react";
import { useChangeProductions, useDemoFilm } from "../../api/production/productions";
import { ACCEPT } from "../../api/wire/uploads";
import { Button } from "../../ui/controls";
import { FileButton } from "../../ui/FileButton";
import { TEXT } from "./texts";

/** Where there is no production yet: the demo film, an empty production, or a file to begin with. */
export function FirstStart({ onBegin }: { onBegin(): void }) {
  const offered = useDemoFilm().data?.offered;
  const { loadDemo, beginWith } = useChangeProductions();
  return (
    <section aria-label={TEXT.none} className="mt-8">
      <p className="max-w-prose text-[15px]">{TEXT.none}</p>
      <p className="max-w-prose text-soft">{TEXT.emptyHint}</p>
      <div className="mt-6 grid gap-x-8 gap-y-6 md:grid-cols-3">
        {offered && (
          <Way title={TEXT.demoFilm} text={TEXT.demoHint}>
            <Button look="primary" disabled={loadDemo.isPending} onClick={() => loadDemo.mutate(undefined)}>
              <Clapperboard size={14} /> {loadDemo.isPending ? TEXT.loadingDemo : TEXT.loadDemo}
            </Button>
          </Way>
        )}
        <Way title={TEXT.emptyOne} text={TEXT.emptyOneHint}>
          <Button onClick={onBegin}>
            <Plus size={14} /> {TEXT.beginOne}
          </Button>
        </Way>
        <Way title={TEXT.aFile} text={TEXT.aFileHint}>
          <FileButton
            look="plain"
            label={TEXT.beginWithFile}
            accept={ACCEPT}
            disabled={beginWith.isPending}
            onFiles={(files) => beginWith.mutate(files)}
          >
            <FileUp size={14} /> {beginWith.isPending ? TEXT.bringingIn : TEXT.beginWithFile}
          </FileButton>
        </Way>
      </div>
    </section>
  );
}

function Way({ title, text, children }: { title: string; text: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="flex flex-col items-start border-t border-rule pt-3">
      <h2 className="font-title text-[19px] font-semibold">{title}</h2>
      <p className="mt-1 mb-3 text-soft">{text}</p>
      <span className="mt-auto">{children}</span>
    </section>
  );
}
