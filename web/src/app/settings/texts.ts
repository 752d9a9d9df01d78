/** What the settings of a production say, in one place for an editor and for translation. */
export const TEXT = {
  asTheHouse: (mm: string) => `Categories left at ${mm} mm are as the house has them.`,
  ease: "Ease that a fit begins with",
  hint: "They hold for everybody who works in this production. What is fitted already stays as it is.",
  holds: "A cell holds while it shows at most",
  lengths: "Body measures in",
  measureAgain: "Measure the sheet again by itself after a change",
  settings: "Settings of the production",
  sheet: "Trial sheet",
  units: "Units",
};
