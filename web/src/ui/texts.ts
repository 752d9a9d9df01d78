/** What the controls say, in one place for an editor and for translation. */
export const TEXT = {
  cancel: "Cancel",
  close: "Close",
  dayLight: "Day light",
  everythingThatWasKept: (message: string) =>
    `${message}. Everything that was kept is safe; open the room again, or reload the page.`,
  heron: "Heron",
  holdsLeastClearanceMm: (clearance: string) => `holds, least clearance ${clearance} mm`,
  lampLight: "Lamp light",
  message: "Message",
  messagesHotkey: "Messages ({hotkey})",
  name: "Name",
  openItAgain: "Open it again",
  showsThroughMmDeep: (it: string) => `shows through, ${it} mm deep`,
  thisRoomCannotBe: "This room cannot be drawn",
  wily: "Wily",
};
