/** What the controls says, in one place for an editor and for translation. */
export const TEXT = {
  close: "Close",
  everythingThatWasKept: (message: string) =>
    `${message}. Everything that was kept is safe; open the room again, or reload the page.`,
  holdsLeastClearanceMm: (clearance: string) => `holds, least clearance ${clearance} mm`,
  message: "Message",
  messagesHotkey: "Messages ({hotkey})",
  openItAgain: "Open it again",
  showsThroughMmDeep: (it: string) => `shows through, ${it} mm deep`,
  thisRoomCannotBe: "This room cannot be drawn",
};
