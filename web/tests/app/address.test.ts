import { describe, expect, it } from "vitest";
import { type Addressed, addressOf, roomAt } from "../../src/app/address";
import { useRoom } from "../../src/store/room";

const at = (address: string) => {
  const url = new URL(address, "http://house");
  return roomAt(url.pathname, url.search);
};

describe("the address of a room", () => {
  it("leads back to the same room, wherever one is", () => {
    const start = {
      production: null,
      wearer: null,
      pose: "stand",
      piece: null,
      step: null,
      sheet: false,
      apart: null,
      place: "fitting" as const,
    };
    const rooms: Addressed[] = [
      start,
      { ...start, wearer: 3, pose: "kneel", piece: 12, step: "fit" },
      { ...start, pose: "own pose & more", sheet: true },
      { ...start, place: "table" },
      { ...start, production: 3, wearer: 3, sheet: true },
      { ...start, production: 12, place: "stock", apart: 4 },
      { ...start, production: 12, place: "packing" },
      { ...start, place: "productions" },
    ];
    for (const room of rooms) expect({ ...start, ...at(addressOf(room)) }).toEqual(room);
  });

  it("says only what is not as at first, and another room's says nothing of the fitting room", () => {
    const first = useRoom.getInitialState();
    expect(addressOf(first)).toBe("/fitting");
    expect(addressOf({ ...first, wearer: 2, pose: "sit" })).toBe("/fitting?wearer=2&pose=sit");
    expect(addressOf({ ...first, production: 4, pose: "sit" })).toBe("/fitting?production=4&pose=sit");
    expect(addressOf({ ...first, production: 4, place: "productions" })).toBe("/productions");
    expect(at("/packing")).toEqual({ production: null, place: "packing" });
  });

  it("is of the first page where it is wrong, and takes no nonsense for a piece or a step", () => {
    expect(at("/nowhere/at/all").place).toBe("productions");
    expect(at("/").place).toBe("productions");
    const odd = at("/fitting?production=one&wearer=-1&piece=12e9&step=starch&pose=&sheet=ajar&apart=4");
    expect(odd).toEqual(at("/fitting"));
    expect(at("/stock/apart/x").apart).toBe(null);
  });
});
