/** What the application round the rooms says, in one place for an editor and for translation. */
export const TEXT = {
  allProductions: "All productions",
  beforeTheLastChange: ", before the last change",
  cuttingTable: "Cutting table",
  filesGoIntoStock: (count: number) => `${count} files go into stock.`,
  findOrDo: "Find or do…",
  fitting: "Fitting",
  hold: "hold",
  of: "of",
  openingTheProduction: "Opening the production…",
  packing: "Packing",
  rooms: "Rooms",
  stockroom: "Stockroom",
  theProductionIsOpen: (name: string) => `${name}: all productions`,
  theInThisAddress: (lost: string) => `The ${lost} in this address is no longer here. The first one is shown.`,
  theProductionCannotBe: "The production cannot be shown",
  trial: (done: number, total: number) => `trial ${done} / ${total}`,
};
