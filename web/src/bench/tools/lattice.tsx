import type { WorkTool } from "../tool";

const tool: WorkTool<"lattice"> = { kind: "lattice", describe: () => "Lattice" };
export default tool;
