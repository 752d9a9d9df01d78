import { describe, expect, it } from "vitest";
import type { CellAnswer } from "../../../src/api/hooks";
import { shownOn, weightsOn } from "../../../src/rooms/fitting/shownOn";
import type { PieceMesh } from "../../../src/stage/mesh/piece";

const trouble = new Float32Array([0.004, 0]);
const protect = new Float32Array([0, 1]);
const measured = new Float32Array([0.003, -0.001]);
const mesh = { kept: new Float32Array(6), trouble, protect } as unknown as PieceMesh;
const cell = {
  frame: { has: (name: string) => name === "clearance:Smock", array: () => measured },
} as unknown as CellAnswer;

describe("what a piece shows", () => {
  it("is its clearance where that is asked for and has been measured for this piece", () => {
    expect(shownOn(null, mesh, "clearance", cell, "Smock")).toEqual({ mode: "clearance", measure: measured });
    expect(shownOn("fit", mesh, "clearance", cell, "Boots").measure).toBeNull();
    expect(shownOn("fit", mesh, "clearance", undefined, "Smock").measure).toBeNull(); // not measured since the last change
  });

  it("is where the fit fell short while it is fitted, what is protected while it is worked on, and else plain cloth", () => {
    expect(shownOn("fit", mesh, "", cell, "Smock")).toEqual({ mode: "trouble", measure: trouble });
    expect(shownOn("work", mesh, "", cell, "Smock")).toEqual({ mode: "protect", measure: protect });
    for (const step of ["bind", "drape", null] as const)
      expect(shownOn(step, mesh, "", cell, "Smock")).toEqual({ mode: "plain", measure: null });
    const bare = { ...mesh, trouble: null, protect: null } as unknown as PieceMesh;
    expect(shownOn("fit", bare, "", cell, "Smock").mode).toBe("plain");
  });

  it("marks the vertices with a fault, and those alone", () => {
    const faults = { faults: [1] } as unknown as Parameters<typeof weightsOn>[3];
    const { mode, measure } = weightsOn(mesh, "faults", 0, faults);
    expect(mode).toBe("faults");
    expect([...(measure ?? [])]).toEqual([0, 1]);
  });
});
