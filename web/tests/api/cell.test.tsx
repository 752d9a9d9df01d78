// @vitest-environment jsdom
import { expect, test } from "vitest";
import { useCell } from "../../src/api/hooks";
import { house } from "../house";
import { settled, shown } from "../shown";
import { room } from "../world";

const CELL = { shape: {}, pose: "stand", body: null };

function Cell() {
  useCell(CELL, "3 aa", true);
  return null;
}

test("the cell on the stage is asked of the production that is open here, whatever was opened last elsewhere", async () => {
  room({ production: 4 });
  const server = house({ "POST /api/cell": () => new ArrayBuffer(0) });
  await shown(<Cell />);
  await new Promise((done) => setTimeout(done, 200)); // it waits whether the artist walks on
  await settled();
  expect(server.asked.map((a) => [a.path, a.query])).toEqual([["/api/cell", { production: "4" }]]);
});
