import { TEXT } from "../texts";
import type { WorkTool } from "../tool";

const tool: WorkTool<"lattice"> = { kind: "lattice", describe: () => TEXT.lattice };
export default tool;
