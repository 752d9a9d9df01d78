import { X } from "lucide-react";
import { Check } from "../../../ui/Check";
import { Button, Slider } from "../../../ui/controls";
import { Choice } from "../../../ui/Select";
import type { Holding } from "./HoldCloth";
import { TEXT } from "./texts";

interface Of<K extends keyof Holding> {
  rows: Holding[K];
  onChange(to: Holding[K]): void;
}

const changed = <T,>(rows: T[], at: number, by: Partial<T>) =>
  rows.map((row, i) => (i === at ? { ...row, ...by } : row));
const without = <T,>(rows: T[], at: number) => rows.filter((_, i) => i !== at);
const cm = (metres: number, digits = 0) => `${(metres * 100).toFixed(digits)} cm`;

export function Tacks({ rows, onChange }: Of<"tacks">) {
  return rows.map((tack, i) => (
    <div key={`tack ${i.toString()}`}>
      <Row
        label={TEXT.tackAbout(i + 1)}
        min={1}
        max={20}
        step={0.5}
        value={tack.radius * 100}
        shown={cm(tack.radius, 1)}
        onChange={(v) => onChange(changed(rows, i, { radius: v / 100 }))}
        onRemove={() => onChange(without(rows, i))}
      />
      <Slider
        label={TEXT.tackHowFarIt(i + 1)}
        min={-1}
        max={1}
        step={0.05}
        value={tack.value}
        shown={tack.value < 0 ? TEXT.letsGo : tack.value === 1 ? "fast" : TEXT.aFrame(Math.round(tack.value * 100))}
        ends={["lets go of what is worn", "fast"]}
        onChange={(value) => onChange(changed(rows, i, { value }))}
      />
      <Choice
        word={TEXT.tackTo(i + 1)}
        value={tack.to ?? "wearer"}
        onChoose={(v) => onChange(changed(rows, i, { to: v as typeof tack.to }))}
      >
        <option value="wearer">{TEXT.theWearerAsIt}</option>
        <option value="under">{TEXT.whatLiesUnderIt}</option>
        <option value="space">{TEXT.theAirWhereIt}</option>
      </Choice>
    </div>
  ));
}

export function Gathers({ rows, onChange }: Of<"gathers">) {
  return rows.map((band, i) => {
    const share = (band.factor ?? 0.75) * 100;
    return (
      <div key={`gather ${i.toString()}`}>
        <Row
          label={TEXT.gatherDrawnInTo(i + 1)}
          min={30}
          max={120}
          step={1}
          value={share}
          shown={`${share.toFixed(0)} %`}
          onChange={(v) => onChange(changed(rows, i, { factor: v / 100 }))}
          onRemove={() => onChange(without(rows, i))}
        />
        <Check checked={!!band.string} onChange={(string) => onChange(changed(rows, i, { string }))}>
          {TEXT.drawnByAString}
        </Check>
      </div>
    );
  });
}

export function Straps({ rows, onChange }: Of<"straps">) {
  return rows.map((strap, i) => (
    <Row
      key={`strap ${i.toString()}`}
      label={TEXT.strapAtMost(i + 1)}
      min={0}
      max={100}
      step={1}
      value={(strap.length ?? 0) * 100}
      shown={strap.length ? cm(strap.length) : "buttoned"}
      onChange={(v) => onChange(changed(rows, i, { length: v / 100 }))}
      onRemove={() => onChange(without(rows, i))}
    />
  ));
}

export function StiffParts({ rows, onChange }: Of<"stiff">) {
  return rows.map(({ radius = 0.06, times = 6 }, i) => (
    <div key={`stiff ${i.toString()}`}>
      <Row
        label={TEXT.stiffPartAbout(i + 1)}
        min={2}
        max={40}
        step={1}
        value={radius * 100}
        shown={cm(radius)}
        onChange={(v) => onChange(changed(rows, i, { radius: v / 100 }))}
        onRemove={() => onChange(without(rows, i))}
      />
      <Slider
        label={TEXT.stiffPartTimes(i + 1)}
        min={-3}
        max={6}
        step={0.5}
        value={Math.log2(times)}
        shown={`× ${times.toPrecision(2)}`}
        onChange={(v) => onChange(changed(rows, i, { times: 2 ** v }))}
      />
    </div>
  ));
}

function Row({ onRemove, ...slider }: Parameters<typeof Slider>[0] & { onRemove(): void }) {
  return (
    <div className="flex items-center gap-1">
      <div className="min-w-0 flex-1">
        <Slider {...slider} />
      </div>
      <Button
        look="quiet"
        className="px-1"
        aria-label={TEXT.takeOut(slider.label.split(",")[0] ?? "")}
        onClick={onRemove}
      >
        <X size={13} />
      </Button>
    </div>
  );
}
