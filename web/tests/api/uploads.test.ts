import { expect, it } from "vitest";
import { droppedFiles, piecesAmong } from "../../src/api/wire/uploads";

const file = (name: string) => ({
  isFile: true,
  isDirectory: false,
  file: (done: (f: File) => void) => done(new File(["v 0 0 0"], name)),
});
/** A folder that tells its entries a hundred at a time, as browsers do. */
const folder = (entries: object[]) => ({
  isFile: false,
  isDirectory: true,
  createReader: () => {
    let at = 0;
    return {
      readEntries: (done: (some: object[]) => void) => {
        at += 100;
        done(entries.slice(at - 100, at));
      },
    };
  },
});
const dropped = (entries: object[], files: File[] = []) =>
  ({ items: entries.map((e) => ({ webkitGetAsEntry: () => e })), files }) as unknown as DataTransfer;

it("takes every file of a dropped folder, however many and however deep", async () => {
  const many = Array.from({ length: 250 }, (_, i) => file(`piece ${i}.obj`));
  const found = await droppedFiles(
    dropped([folder([...many, folder([file("coat.obj"), folder([])])]), file("coat.mtl")]),
  );
  expect(found).toHaveLength(252);
  expect(found.map((f) => f.name)).toContain("coat.obj");
});

it("takes files alone as they come", async () => {
  const coat = new File([""], "coat.glb");
  expect(await droppedFiles(dropped([file("coat.glb")], [coat]))).toEqual([coat]);
});

it("tells what belongs to pieces from pieces by its ending", () => {
  const named = (name: string) => new File([], name);
  const files = ["coat.OBJ", "coat.mtl", "boots.glb", "felt.png", "hat.gltf", "hat.bin"].map(named);
  expect(piecesAmong(files).map((f) => f.name)).toEqual(["coat.OBJ", "boots.glb", "hat.gltf"]);
});
