/** What the stage says, in one place for an editor and for translation. */
export const TEXT = {
  close: "Close",
  stageDrawn: "stage drawn",
};
