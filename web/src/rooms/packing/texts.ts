/** What the room "packing" says, in one place for an editor and for translation. */
export const TEXT = {
  checked: "Checked",
  clips: "Clips",
  doBindAndFollow: (notReady: string) => `${notReady}: do Bind and Follow in the Fitting room first.`,
  doesNotFollow: "does not follow",
  isPacked: (download: string) => `${download} is packed.`,
  joints: (joints: number) => `${joints} joints`,
  measuredBeforeTheLast: ", measured before the last change (not packed)",
  notBound: "not bound",
  nothingHangsOnThe: "Nothing hangs on the rail of this body yet.",
  ofCellsHold: (holding: number, total: number, which: string) => `${holding} of ${total} cells hold${which}`,
  oneBinaryGltfFile:
    "One binary glTF file: body and pieces on one skeleton, every shape as a morph target, every wearer and pose as a clip.",
  packedOn: "Packed on",
  packing: "Packing…",
  packingList: "Packing list",
  packIt: "Pack it",
  pieces: "Pieces",
  poses: (count: number, which: string, count2: number) => `${count} ${which} × ${count2} poses`,
  shapes: (shapes: number) => `${shapes} shapes`,
  theTrialSheetHas: "The trial sheet has not been measured.",
  vertices: "vertices ·",
};
