import type { BenchFolder } from "../../step";
import { ClearPanel } from "./ClearPanel";

const step: BenchFolder = {
  Panel: ClearPanel,
  summary: ({ report: { clear } }) => {
    if (!clear.length) return "";
    const cleared = clear.reduce((n, r) => n + r.cleared, 0);
    const of = clear.reduce((n, r) => n + r.of, 0);
    return `${cleared} of ${of} cells cleared`;
  },
  begunInPanel: true,
  takeBack: "Take all clearing back",
};
export default step;
