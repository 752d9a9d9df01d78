import type { BenchFolder } from "../../step";
import { DrapePanel } from "./DrapePanel";
import { TEXT } from "./texts";

const step: BenchFolder = {
  Panel: DrapePanel,
  summary: ({ report: { drape } }) => (drape.length ? TEXT.kept(drape.at(-1)?.fabric ?? "", drape.length) : ""),
  begunInPanel: true,
  takeBack: TEXT.takeAllDrapingBack,
};
export default step;
