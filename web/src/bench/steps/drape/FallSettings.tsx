import type { Wearer } from "../../../api/client";
import { Check } from "../../../ui/Check";
import { Slider } from "../../../ui/controls";
import { Choice } from "../../../ui/Select";
import { type DrapeSettings, FROM } from "./drapeSettings";
import { HoldCloth } from "./HoldCloth";
import { TEXT } from "./texts";

interface Props {
  settings: DrapeSettings;
  wearer: Wearer | undefined;
  /** Those of the cast the piece can be cut to. */
  alike: Wearer[];
  onChange(to: Partial<DrapeSettings>): void;
}

/** What holds the cloth and what moves it. */
export function FallSettings({ settings, wearer, alike, onChange }: Props) {
  const { held, pressure, cut, substeps } = settings;
  return (
    <div className="mt-2 border-t border-dashed border-rule pt-1">
      <Slider
        label={TEXT.wornAtTheTop}
        min={0}
        max={30}
        step={0.5}
        value={held}
        shown={`${held.toFixed(1)} cm`}
        onChange={(to) => onChange({ held: to })}
      />
      {alike.length > 0 && (
        <Choice word={TEXT.cutTo} value={cut} onChoose={(v) => onChange({ cut: Number(v) })}>
          <option value={0}>{TEXT.whoWearsIt(wearer?.name ?? "")}</option>
          {alike.map((w) => (
            <option key={w.id} value={w.id}>
              {TEXT.andKeepsThatSize(w.name)}
            </option>
          ))}
        </Choice>
      )}
      <HoldCloth holding={settings.holding} onChange={(holding) => onChange({ holding })} />
      <Slider
        label={TEXT.padding}
        min={0}
        max={20}
        step={0.5}
        value={pressure}
        shown={pressure ? `${pressure.toFixed(1)} N/m²` : "none"}
        onChange={(to) => onChange({ pressure: to })}
      />
      <Wind settings={settings} onChange={onChange} />
      <Slider
        label={TEXT.substepsAFrame}
        min={10}
        max={80}
        step={5}
        value={substeps}
        shown={`${substeps}`}
        ends={["quicker", "stiffer where it is set so"]}
        onChange={(to) => onChange({ substeps: to })}
      />
      <Check checked={settings.finer} onChange={(finer) => onChange({ finer })}>
        {TEXT.addSubstepsWhileThe}
      </Check>
      <Check checked={settings.past} onChange={(past) => onChange({ past })}>
        {TEXT.fallsPastHiddenSkin}
      </Check>
    </div>
  );
}

function Wind({ settings, onChange }: Pick<Props, "settings" | "onChange">) {
  const { wind, from, gust } = settings;
  return (
    <>
      <Slider
        label={TEXT.wind}
        min={0}
        max={15}
        step={0.5}
        value={wind}
        shown={wind ? `${wind.toFixed(1)} m/s` : "still"}
        onChange={(to) => onChange({ wind: to })}
      />
      {wind > 0 && (
        <>
          <Choice word={TEXT.from} value={from} onChoose={(v) => onChange({ from: Number(v) })}>
            {FROM.map(([name], i) => (
              <option key={name} value={i}>
                {name}
              </option>
            ))}
          </Choice>
          <Slider
            label={TEXT.gusts}
            min={0}
            max={1}
            step={0.05}
            value={gust}
            shown={`± ${Math.round(gust * 100)} %`}
            onChange={(to) => onChange({ gust: to })}
          />
        </>
      )}
    </>
  );
}
