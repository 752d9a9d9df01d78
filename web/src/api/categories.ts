/** What a piece can be. */
export const CATEGORIES = [
  "top",
  "bottom",
  "dress",
  "suit",
  "footwear",
  "glove",
  "headwear",
  "hair",
  "beard",
  "rigid",
] as const;
