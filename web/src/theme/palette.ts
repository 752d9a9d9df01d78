import { useLamp } from "./theme";

const VARIABLE = {
  heron: "--color-heron",
  ink: "--color-ink",
  ground: "--stage-ground",
  shade: "--stage-shade",
  sky: "--light-sky",
  earth: "--light-earth",
  sun: "--light-sun",
  side: "--light-side",
  clay: "--clay",
  clayPale: "--clay-pale",
  toile: "--toile",
  lit: "--lit",
  tape: "--tape",
  through: "--map-through",
  throughPale: "--map-through-pale",
  mapPale: "--map-pale",
  clearPale: "--map-clear-pale",
  clear: "--map-clear",
  taut: "--map-taut",
  loose: "--map-loose",
  mapInk: "--map-ink",
} as const;
export type Tone = keyof typeof VARIABLE;

/** A colour of the theme as it is now, for what CSS does not reach: three.js reads the same variables. */
export function toneOf(tone: Tone): string {
  return getComputedStyle(document.documentElement).getPropertyValue(VARIABLE[tone]).trim();
}

/** How many colours tell the parts of a dressed body apart: earths and dyes that differ in greyscale too, none of them coral. */
export const PART_TONES = 12;

/** The CSS colour of a part, by its number. */
export function partTone(k: number): string {
  return `var(--part-${(k % PART_TONES) + 1})`;
}

/** The same for three.js. */
export function partColour(k: number): string {
  return getComputedStyle(document.documentElement)
    .getPropertyValue(`--part-${(k % PART_TONES) + 1}`)
    .trim();
}

/** The theme's colours; what asks is drawn anew when the page is lit otherwise. */
export function useTones(): (tone: Tone) => string {
  useLamp();
  return toneOf;
}
