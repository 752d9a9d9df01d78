import type { BenchFolder } from "../../step";
import { ClearPanel } from "./ClearPanel";
import { TEXT } from "./texts";

const step: BenchFolder = {
  Panel: ClearPanel,
  summary: ({ report: { clear } }) => {
    if (!clear.length) return "";
    const cleared = clear.reduce((n, r) => n + r.cleared, 0);
    const of = clear.reduce((n, r) => n + r.of, 0);
    return TEXT.ofCellsCleared(cleared, of);
  },
  begunInPanel: true,
  takeBack: TEXT.takeAllClearingBack,
};
export default step;
