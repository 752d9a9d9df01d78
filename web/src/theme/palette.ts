import { useLamp } from "./theme";

const VARIABLE = {
  heron: "--color-heron",
  ink: "--color-ink",
  ground: "--stage-ground",
  shade: "--stage-shade",
} as const;
export type Tone = keyof typeof VARIABLE;

/** A colour of the theme as it is now, for what CSS does not reach: three.js reads the same variables. */
export function toneOf(tone: Tone): string {
  return getComputedStyle(document.documentElement).getPropertyValue(VARIABLE[tone]).trim();
}

/** The theme's colours; what asks is drawn anew when the page is lit otherwise. */
export function useTones(): (tone: Tone) => string {
  useLamp();
  return toneOf;
}
