// Evaluates the stage's own code in Node: reads a case on stdin, prints the skinned vertices the GPU would draw.
import { createRequire } from "node:module";
import { readFileSync } from "node:fs";

const require = createRequire(new URL("../../web/package.json", import.meta.url));
const { build } = require("esbuild");
globalThis.location = { search: "?stage=light" };
globalThis.document = { createElement: () => ({ getContext: () => null }) }; // no drawing here
const frames = JSON.parse(readFileSync(0, "utf8"));
globalThis.fetch = async (path) => new Response(readFileSync(path.startsWith("/api/figure") ? frames.figure : frames.piece));
const web = new URL("../../web/", import.meta.url).pathname;
const out = await build({
  stdin: { contents: 'export * from "./src/stage/mesh/figure.ts"; export * from "./src/stage/mesh/drawn.ts"; export * from "./src/stage/mesh/piece.ts"; export * from "./src/stage/mesh/worn.ts"; export * from "./src/stage/mesh/yields.ts"; export { Matrix4, Quaternion } from "three";', resolveDir: web, loader: "ts" },
  bundle: true, format: "esm", write: false, platform: "node",
});
const stage = await import(`data:text/javascript;base64,${Buffer.from(out.outputFiles[0].contents).toString("base64")}`);
const figure = await stage.fetchFigure();
const piece = await stage.fetchPiece("x");
const values = Float32Array.from(figure.shapes, (s) => frames.shape[s] ?? 0);
const turns = new Map(Object.entries(frames.rotations).map(([j, q]) => [figure.joints.indexOf(j), new stage.Quaternion(...q)]));
const matrices = figure.joints.map(() => new stage.Matrix4());
stage.drive(figure, values, turns);
stage.skinMatrices(figure, values, turns, matrices);
const own = piece.riders ? new stage.RiderRig(piece.riders, true).at(values.map((v, s) => v - piece.madeAt[s]), matrices, 0).matrices : [];
const fixes = stage.correctivesOf(piece.frame, figure.shapes, figure.joints);
const fixed = fixes && stage.correctiveValues(fixes, values, turns);
if (piece.riders) matrices.splice(piece.riders.first, Infinity, ...own);
const bodyMatrices = figure.joints.map(() => new stage.Matrix4());
stage.skinMatrices(figure, values, turns, bodyMatrices);
const skinned = (geometry, matrices) => {
  const p = geometry.getAttribute("position").array, joints = geometry.getAttribute("skinIndex").array, w = geometry.getAttribute("skinWeight").array;
  const result = [];
  for (let i = 0; i < p.length / 3; i++) {
    const at = [0, 0, 0];
    for (let k = 0; k < 4; k++) {
      const e = matrices[joints[4 * i + k]].elements;
      for (let a = 0; a < 3; a++) at[a] += w[4 * i + k] * (e[a] * p[3 * i] + e[4 + a] * p[3 * i + 1] + e[8 + a] * p[3 * i + 2] + e[12 + a]);
    }
    result.push(at);
  }
  return result;
};
const skin = stage.dressedSkin(figure, [piece]);
stage.reshape(figure.geometry, skin.source, skin.influence({ values, turns }));
stage.reshape(piece.geometry, piece.source, (s) => (s < values.length ? values[s] - piece.madeAt[s] : fixed[s - values.length]));
console.log(JSON.stringify({ body: skinned(figure.geometry, bodyMatrices), piece: skinned(piece.geometry, matrices) }));
