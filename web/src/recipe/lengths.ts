/** The units in which a production measures bodies: what each is called, and how many are in a metre (the inch by ISO 31-1). */
export const LENGTHS = {
  cm: { name: "cm", per: 100 },
  in: { name: "inches", per: 1 / 0.0254 },
} as const;
