import type { WorkTool } from "../tool";

const tool: WorkTool<"lattice"> = { kind: "lattice", said: () => "Lattice" };
export default tool;
