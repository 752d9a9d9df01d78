import type { BenchFolder } from "../../step";
import { DrapePanel } from "./DrapePanel";

const step: BenchFolder = {
  Panel: DrapePanel,
  summary: ({ report: { drape } }) => (drape.length ? `${drape.at(-1)?.fabric}, ${drape.length} kept` : ""),
  begunInPanel: true,
  takeBack: "Take all draping back",
};
export default step;
