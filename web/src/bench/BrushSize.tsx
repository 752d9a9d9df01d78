import { Slider } from "../ui/controls";
import { TEXT } from "./texts";

interface Props {
  /** In metres; the slider says centimetres, and ends at `widest` of them. */
  radius: number;
  widest: number;
  /** 0 to 1. */
  strength: number;
  onChange(to: { radius?: number; strength?: number }): void;
}

/** How wide a brush is and how strongly it works. */
export function BrushSize({ radius, widest, strength, onChange }: Props) {
  return (
    <>
      <Slider
        label={TEXT.radius}
        min={0.8}
        max={widest}
        step={0.2}
        value={radius * 100}
        shown={`${(radius * 100).toFixed(1)} cm`}
        onChange={(v) => onChange({ radius: v / 100 })}
      />
      <Slider
        label={TEXT.strength}
        min={0.05}
        max={1}
        step={0.05}
        value={strength}
        shown={`${Math.round(strength * 100)} %`}
        onChange={(v) => onChange({ strength: v })}
      />
    </>
  );
}
