/// <reference types="vite/client" />
import ts from "typescript";
import { expect, it } from "vitest";

const SOURCES = import.meta.glob<string>("../src/**/*.{ts,tsx}", { query: "?raw", import: "default", eager: true });
const SCREENS = Object.keys(SOURCES).filter((f) => /src\/(rooms|bench|stage|app|ui)\/.*\.tsx$/.test(f));

/** Words between tags, and words in the attributes that a person reads or hears. */
function wordsIn(file: string): string[] {
  const source = ts.createSourceFile(file, SOURCES[file] ?? "", ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
  const found: string[] = [];
  const look = (node: ts.Node): void => {
    if (ts.isJsxText(node)) found.push(node.text.trim());
    if (ts.isJsxAttribute(node) && node.initializer && ts.isStringLiteral(node.initializer)) {
      const name = node.name.getText(source);
      if (["label", "aria-label", "title", "text", "placeholder", "word"].includes(name))
        found.push(node.initializer.text);
    }
    ts.forEachChild(node, look);
  };
  look(source);
  return found.filter((text) => /[A-Za-z]{2}/.test(text));
}

it("what a screen says stands in the texts of its room, where an editor finds it", () => {
  expect(SCREENS.length).toBeGreaterThan(90);
  expect(SCREENS.flatMap((file) => wordsIn(file).map((text) => `${file}: ${text}`))).toEqual([]);
});

it("no text is kept that no screen says", () => {
  const rooms = Object.keys(SOURCES).filter((f) => f.endsWith("/texts.ts"));
  const unused = rooms.flatMap((room) => {
    const folder = room.replace("texts.ts", "");
    const said = Object.entries(SOURCES).filter(([f]) => f.startsWith(folder) && f !== room);
    const words = said.map(([, text]) => text).join();
    const keys = [...(SOURCES[room] ?? "").matchAll(/^ {2}(\w+):/gm)].map((m) => m[1]);
    return keys.filter((key) => !new RegExp(`\\bTEXT\\.${key}\\b`).test(words)).map((key) => `${room}: ${key}`);
  });
  expect(unused).toEqual([]);
});
