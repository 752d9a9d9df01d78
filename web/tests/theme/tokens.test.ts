import { Color } from "three";
import { describe, expect, it } from "vitest";
import CSS from "../../src/theme/tokens.css?raw";

const SOURCES = import.meta.glob("../../src/**/*.{ts,tsx}", { query: "?raw", import: "default", eager: true });

/** The colours of a block of the stylesheet, by name. */
function tones(block: string): Map<string, string> {
  const from = CSS.indexOf(block);
  const inside = CSS.slice(from, CSS.indexOf("}", from));
  return new Map([...inside.matchAll(/(--[\w-]+): (#[0-9a-f]{6});/g)].map((m) => [m[1] ?? "", m[2] ?? ""]));
}

/** Relative luminance of a colour: WCAG 2.2. */
function luminance(hex: string): number {
  const { r, g, b } = new Color(hex); // three.js holds it linear
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

function contrast(a: string, b: string): number {
  const [dark, light] = [luminance(a), luminance(b)].sort((x, y) => x - y) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

const PARTS = tones(":root {"); // outside the theme, which drops variables that no file names whole
const DAY = new Map([...tones("@theme"), ...PARTS]);
const LAMP = new Map([...DAY, ...tones(":root[data-lamp]")]);

describe.each([
  ["by day", DAY],
  ["by lamp light", LAMP],
])("the palette %s", (_, palette) => {
  const tone = (name: string): string => palette.get(`--color-${name}`) ?? "";

  it.each(["paper", "card", "chalk"])("is read on %s: 4.5 to 1 for all text", (ground) => {
    for (const text of ["ink", "soft", "heron", "moss", "amber", "coral"])
      expect(contrast(tone(text), tone(ground)), `${text} on ${ground}`).toBeGreaterThanOrEqual(
        ground === "chalk" && text !== "ink" ? 3 : 4.5, // on chalk stand words of 14 px bold, and signs
      );
  });

  it("is read on the pale grounds of its states", () => {
    for (const state of ["moss", "amber", "coral"])
      expect(contrast(tone(state), tone(`${state}-pale`)), state).toBeGreaterThanOrEqual(4.5);
  });

  it("has every tone of the other one", () => {
    for (const name of DAY.keys()) expect(palette.get(name)).toMatch(/^#[0-9a-f]{6}$/);
  });
});

it("tells the parts of a dressed body apart in greyscale, those beside one another well, and none is coral", () => {
  const parts = [...PARTS.values()];
  expect(parts).toHaveLength(12);
  parts.forEach((hex, k) => {
    expect(contrast(hex, parts[(k + 1) % parts.length] ?? ""), hex).toBeGreaterThan(1.25);
    const hue = { h: 0, s: 0, l: 0 };
    new Color(hex).getHSL(hue);
    expect(hue.s > 0.5 && (hue.h < 0.06 || hue.h > 0.95), hex).toBe(false);
  });
});

it("keeps every colour in the stylesheet: none stands in a component or a shader", () => {
  const stray = Object.entries(SOURCES).flatMap(([file, text]) =>
    [...String(text).matchAll(/#[0-9a-fA-F]{6}\b/g)].map((m) => `${file}: ${m[0]}`),
  );
  expect(stray).toEqual([]);
});

it("has a variable for every tone that three.js reads", async () => {
  const palette = String(Object.entries(SOURCES).find(([file]) => file.endsWith("/palette.ts"))?.[1]);
  const asked = [...palette.matchAll(/: "(--[\w-]+)"/g)].map((m) => m[1] ?? "");
  expect(asked.length).toBeGreaterThan(10);
  for (const name of asked) expect([name, DAY.has(name)]).toEqual([name, true]);
});
