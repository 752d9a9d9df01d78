import { artist, inProduction, problemOf } from "../client";

/** What the server reads: pieces, and the materials, buffers and textures that belong to them. */
export const ACCEPT = ".obj,.mtl,.glb,.gltf,.bin,.ply,.stl,.usd,.usda,.usdc,.usdz,.zip,.png,.jpg,.jpeg,.webp,.exr";

const PIECE = /\.(obj|glb|gltf|ply|stl|usd|usda|usdc|usdz|zip)$/i;

/** Those of some files that are pieces; the others are what belongs to them. */
export function piecesAmong(files: File[]): File[] {
  return files.filter((file) => PIECE.test(file.name));
}

/** Every file dropped, those in folders too. */
export async function droppedFiles(transfer: DataTransfer): Promise<File[]> {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry()).filter((e) => e !== null);
  if (!entries.some((e) => e.isDirectory)) return [...transfer.files];
  return (await Promise.all(entries.map(filesIn))).flat();
}

async function filesIn(entry: FileSystemEntry): Promise<File[]> {
  if (entry.isFile) return [await new Promise<File>((done, fail) => (entry as FileSystemFileEntry).file(done, fail))];
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const found: File[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail));
    if (!some.length) return found;
    for (const inside of some) found.push(...(await filesIn(inside)));
  }
}

/** Sends files to the server, in the field it reads them from, and returns its answer. */
export async function sent<R>(path: string, files: File[], field = "files"): Promise<R> {
  const form = new FormData();
  for (const file of files) form.append(field, file);
  const answer = await fetch(inProduction(path), { method: "POST", body: form, headers: { "X-Artist": artist() } });
  if (!answer.ok) throw await problemOf(answer);
  return (await answer.json()) as R;
}
