/** Colours of parts on the stage: earths and dyes that tell apart in greyscale too; coral is kept for what shows through. */
export const PART_COLOURS = [
  "#d8c4a4",
  "#3e6481",
  "#7d8f5a",
  "#a9772f",
  "#6d4f74",
  "#8fb0bf",
  "#4b3d30",
  "#c9a94f",
  "#5b7f77",
  "#9a8aa8",
  "#2f4a3c",
  "#b7b09d",
];
