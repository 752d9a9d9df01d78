import type { BenchFolder } from "../../step";
import { ReceivePanel } from "./ReceivePanel";
import { TEXT } from "./texts";

const step: BenchFolder = {
  Panel: ReceivePanel,
  summary: ({ report: { receive } }) => (receive ? TEXT.mUp(receive.unit, receive.up.toUpperCase()) : ""),
  takeBack: null,
};
export default step;
