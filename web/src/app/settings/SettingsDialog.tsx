import { CATEGORIES } from "../../api/categories";
import type { Production } from "../../api/client";
import { type Settings, useChangeSettings } from "../../api/production/settings";
import { LENGTHS } from "../../recipe/lengths";
import { easeFor } from "../../recipe/recipe";
import { useRoomOf } from "../../store/room";
import { Check } from "../../ui/Check";
import { NumberField } from "../../ui/controls";
import { DialogFrame } from "../../ui/DialogFrame";
import { Choice } from "../../ui/Select";
import { TEXT } from "./texts";

/** What a fit can be asked for (mm). */
const MOST_EASE = 200;
/** So much a cell may be let show at most (cm2). */
const MOST_SHOWN = 100;
const capital = (word: string) => word[0]?.toUpperCase() + word.slice(1);
const within = (x: number, most: number) => Math.max(0, Math.min(most, x));

/** What the production has settled for its rooms; each is kept as it is changed. */
export default function SettingsDialog({ production }: { production: Production }) {
  const { set } = useRoomOf("set");
  const { settings } = production;
  const change = useChangeSettings();
  const keep = (to: Partial<Settings>) => change.mutate({ ...settings, ...to });
  const ownEase = easeFor("", { ease: {} });
  const setEase = (category: string, millimetres: number) => {
    const { [category]: _, ...others } = settings.ease;
    const ease = within(millimetres, MOST_EASE) / 1000;
    keep({ ease: ease === ownEase ? others : { ...others, [category]: ease } });
  };
  return (
    <DialogFrame
      title={TEXT.settings}
      hint={TEXT.hint}
      className="max-h-[88vh] w-[min(640px,94vw)]"
      onClose={() => set({ settings: false })}
    >
      <div className="min-h-0 space-y-5 overflow-y-auto px-5 py-4">
        <section aria-label={TEXT.ease}>
          <h3 className="font-semibold">{TEXT.ease}</h3>
          <p className="mb-2 text-[12.5px] text-soft">{TEXT.asTheHouse((ownEase * 1000).toFixed(0))}</p>
          <div className="grid grid-cols-3 gap-x-4 gap-y-2 sm:grid-cols-5">
            {CATEGORIES.map((category) => (
              <NumberField
                key={category}
                label={capital(category)}
                unit="mm"
                value={easeFor(category, settings) * 1000}
                onCommit={(mm) => setEase(category, mm)}
              />
            ))}
          </div>
        </section>
        <section aria-label={TEXT.sheet}>
          <h3 className="mb-1 font-semibold">{TEXT.sheet}</h3>
          <div className="max-w-60">
            <NumberField
              label={TEXT.holds}
              unit="cm²"
              digits={2}
              step={0.1}
              value={settings.holds_cm2}
              onCommit={(cm2) => keep({ holds_cm2: within(cm2, MOST_SHOWN) })}
            />
          </div>
          <Check className="mt-2" checked={settings.measure_again} onChange={(on) => keep({ measure_again: on })}>
            {TEXT.measureAgain}
          </Check>
        </section>
        <section aria-label={TEXT.units}>
          <h3 className="mb-1 font-semibold">{TEXT.units}</h3>
          <Choice
            word={TEXT.lengths}
            value={settings.lengths}
            onChoose={(unit) => keep({ lengths: unit as Settings["lengths"] })}
          >
            {Object.entries(LENGTHS).map(([unit, { name }]) => (
              <option key={unit} value={unit}>
                {name}
              </option>
            ))}
          </Choice>
        </section>
      </div>
    </DialogFrame>
  );
}
