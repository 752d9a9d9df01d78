import type { Stop } from "../../store/tour";

/** What the tour says, in one place for an editor and for translation. */
export const TEXT = {
  back: "Back",
  finish: "Finish",
  resume: (at: number, of: number) => `Resume the tour: ${at} of ${of}`,
  leave: "Leave the tour. You can resume it at this stop.",
  next: "Next",
  of: (at: number, of: number) => `Stop ${at} of ${of}`,
  take: "Take the tour of the rooms",
  tour: "Tour",
  stops: {
    place: [
      "Place",
      "Drop a file on the figure and it is put on. Its steps stand on the bench, in working order. Place says where it lies: move it on the stage, or press Propose.",
    ],
    fit: [
      "Fit",
      "Ease is the distance asked for between the piece and what lies under it. The piece moves on the stage as you drag the slider. The fit is a step: you can change it at any time.",
    ],
    sheet: [
      "The trial sheet",
      "Every wearer in every pose, measured. A coral frame shows where something comes through. Press a picture to go to that cell. After a change, what depends on it is measured again by itself.",
    ],
    clear: [
      "Clear",
      "Here you see what comes through in this cell, how deep and how far. Clear it in this cell, or in all that fail. Hold C to see the clearance on the cloth.",
    ],
    drape: [
      "Drape",
      "Once a piece is bound it can fall as cloth. Choose the fabric, let it fall, pull at it, and keep the frame you like for this pose.",
    ],
    table: [
      "Cutting table",
      "Begin with a block drafted to a wearer's measures. Change its panels, say which edges are sewn, and hang the garment on the rail.",
    ],
    stock: [
      "Stockroom",
      "Pieces, bodies, poses, fabrics and motions that all productions share. Drop files here to take them in. Put on the rail hangs a piece there, and dresses the wearer in it if you want that at once.",
    ],
    pack: [
      "Packing",
      "One file for another program: the body, the pieces, their weights and shapes, and what was checked. The list says what is not ready yet.",
    ],
  } satisfies Record<Stop, [string, string]>,
};
