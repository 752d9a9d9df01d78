import type { BenchFolder } from "../../step";
import { ReceivePanel } from "./ReceivePanel";

const step: BenchFolder = {
  Panel: ReceivePanel,
  summary: ({ report: { receive } }) => (receive ? `${receive.unit} → m, ${receive.up.toUpperCase()} up` : ""),
  takeBack: null,
};
export default step;
