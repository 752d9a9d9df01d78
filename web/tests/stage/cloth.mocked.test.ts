import { Color, ShaderLib } from "three";
import { describe, expect, it, vi } from "vitest";

vi.mock("../../src/stage/mesh/quality", () => ({ quality: { level: 1, shadows: false, smooth: false } }));
vi.mock("../../src/theme/palette", () => ({ toneOf: () => "#d4512f" }));
const { MapMaterial } = await import("../../src/stage/mesh/cloth");
type Shader = Parameters<InstanceType<typeof MapMaterial>["onBeforeCompile"]>[0];

/** What the material makes of the library's own shader. */
function compiled(eight: boolean, colour: number[] | string = [0.1, 0.2, 0.3]) {
  const material = new MapMaterial(colour, 0.8, 0.2, true, eight);
  const { vertexShader, fragmentShader } = ShaderLib.lambert;
  const shader = { vertexShader, fragmentShader, uniforms: {} } as unknown as Shader;
  material.onBeforeCompile(shader, null as never);
  return { material, shader };
}
const count = (text: string, part: string) => text.split(part).length - 1;

describe("the material that shows maps", () => {
  it("adds its parts to the library's shader once each", () => {
    const { shader } = compiled(false);
    expect(count(shader.vertexShader, "attribute float aMeasure;")).toBe(1);
    expect(count(shader.vertexShader, "vMeasure = aMeasure * 1000.0;")).toBe(1);
    expect(count(shader.fragmentShader, "uniform int uMode;")).toBe(1);
    for (let mode = 1; mode <= 7; mode++) expect(count(shader.fragmentShader, `uMode == ${mode}`)).toBe(1);
    expect(shader.vertexShader).not.toContain("skinIndex1");
  });

  it("skins by all eight joints where eight bear on a vertex", () => {
    const { shader } = compiled(true);
    for (const letter of "xyzw") {
      expect(shader.vertexShader).toContain(`getBoneMatrix( skinIndex1.${letter} )`);
      expect(count(shader.vertexShader, `skinWeight1.${letter}`)).toBe(2); // of positions, and of normals
    }
    for (const chunk of ["skinbase_vertex", "skinning_vertex"]) expect(shader.vertexShader).not.toContain(`<${chunk}>`);
  });

  it("shows the map that is asked for, and cloth again", () => {
    const { material, shader } = compiled(false);
    const modes = ["plain", "clearance", "stands-out", "trouble", "protect", "weights", "faults", "strain"] as const;
    const shown = modes.map((mode) => {
      material.show(mode);
      return shader.uniforms.uMode?.value;
    });
    expect(shown).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
  });

  it("takes a colour as linear numbers or as a page writes it", () => {
    expect(compiled(false, [0.25, 0.5, 1]).material.color.toArray()).toEqual([0.25, 0.5, 1]);
    const written = compiled(false, "#3e6481").material.color;
    expect(written.getHexString()).toBe("3e6481");
    expect(written.r).toBeCloseTo(new Color("#3e6481").r);
  });
});
