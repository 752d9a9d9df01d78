// Prints the Khronos validator's report on a .glb as JSON: node validate.mjs FILE
import { readFileSync } from "node:fs";
import { createRequire } from "node:module";

const require = createRequire(new URL("../../web/package.json", import.meta.url));
const validator = require("gltf-validator");
const report = await validator.validateBytes(new Uint8Array(readFileSync(process.argv[2])));
console.log(JSON.stringify(report.issues));
