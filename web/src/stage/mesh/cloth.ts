import { invalidate } from "@react-three/fiber";
import {
  Color,
  DoubleSide,
  FrontSide,
  MeshLambertMaterial,
  MeshStandardMaterial,
  NoColorSpace,
  RepeatWrapping,
  ShaderChunk,
  SRGBColorSpace,
  TextureLoader,
} from "three";
import { item } from "../../recipe/at";
import { type Tone, toneOf } from "../../theme/palette";
import { quality } from "./quality";

export type Mode = "plain" | "clearance" | "stands-out" | "trouble" | "protect" | "weights" | "faults" | "strain";
const LOADER = new TextureLoader();
const onTexture = () => invalidate();
const CODE: Record<Mode, number> = {
  plain: 0,
  clearance: 1,
  "stands-out": 2,
  trouble: 3,
  protect: 4,
  weights: 5,
  faults: 6,
  strain: 7,
};

/** Skinning by eight joints a vertex: the library's four, and four more. */
const EIGHT = {
  skinbase_vertex: `${ShaderChunk.skinbase_vertex}
    mat4 boneMatX1 = getBoneMatrix( skinIndex1.x );
    mat4 boneMatY1 = getBoneMatrix( skinIndex1.y );
    mat4 boneMatZ1 = getBoneMatrix( skinIndex1.z );
    mat4 boneMatW1 = getBoneMatrix( skinIndex1.w );`,
  skinnormal_vertex: ShaderChunk.skinnormal_vertex.replace(
    "skinMatrix += skinWeight.w * boneMatW;",
    `skinMatrix += skinWeight.w * boneMatW + skinWeight1.x * boneMatX1 + skinWeight1.y * boneMatY1
      + skinWeight1.z * boneMatZ1 + skinWeight1.w * boneMatW1;`,
  ),
  skinning_vertex: ShaderChunk.skinning_vertex.replace(
    "skinned += boneMatW * skinVertex * skinWeight.w;",
    `skinned += boneMatW * skinVertex * skinWeight.w;
    skinned += (skinWeight1.x * boneMatX1 + skinWeight1.y * boneMatY1
      + skinWeight1.z * boneMatZ1 + skinWeight1.w * boneMatW1) * skinVertex;`,
  ),
};

// the fuller light model costs a software renderer three times the plain one
const Lit = (quality.smooth ? MeshStandardMaterial : MeshLambertMaterial) as typeof MeshStandardMaterial;

/** A colour of the legend for the shader: in sRGB, in which legends are mixed, or linear. */
function rgb(tone: Tone): string {
  const { r, g, b } = new Color(toneOf(tone)).convertLinearToSRGB();
  return `vec3(${[r, g, b].map((v) => v.toFixed(4)).join(", ")})`;
}
function linear(tone: Tone): string {
  const { r, g, b } = new Color(toneOf(tone));
  return `vec3(${[r, g, b].map((v) => v.toFixed(4)).join(", ")})`;
}

/**
 * A lit material that can show the attribute `aMeasure` (metres): clearance as coral - pale - heron with isolines every 2 mm and
 * a firm line at 0, what of the body stands out in coral, where a fit fell short in amber, or the mask (0 to 1) as ink hatching, one joint's
 * weights (0 to 1) from paper to ink with isolines every fifth, vertices with faults (0 or 1) in amber,
 * or strain (a share) from amber where threads are drawn together to violet where they are stretched, lines every 2 %.
 */
export class MapMaterial extends Lit {
  private readonly mode = { value: 0 };

  constructor(colour: number[] | string, roughness: number, metal: number, twoSided: boolean, eight = false) {
    super({ side: twoSided ? DoubleSide : FrontSide, shadowSide: twoSided ? DoubleSide : FrontSide });
    if (quality.smooth) {
      this.roughness = roughness;
      this.metalness = metal * 0.6;
    }
    if (typeof colour === "string") this.color.set(colour);
    else this.color = new Color().setRGB(item(colour, 0), item(colour, 1), item(colour, 2));
    this.onBeforeCompile = (shader) => {
      shader.uniforms.uMode = this.mode;
      if (eight) {
        for (const [name, chunk] of Object.entries(EIGHT))
          shader.vertexShader = shader.vertexShader.replace(`#include <${name}>`, chunk);
        shader.vertexShader = `attribute vec4 skinIndex1;\nattribute vec4 skinWeight1;\n${shader.vertexShader}`;
      }
      shader.vertexShader = shader.vertexShader
        .replace("#include <common>", "#include <common>\nattribute float aMeasure;\nvarying float vMeasure;")
        .replace("#include <begin_vertex>", "#include <begin_vertex>\nvMeasure = aMeasure * 1000.0;");
      shader.fragmentShader = shader.fragmentShader
        .replace(
          "#include <common>",
          "#include <common>\nuniform int uMode;\nvarying float vMeasure;\nconst float LIT = 1.25;",
        )
        .replace(
          "#include <color_fragment>",
          `#include <color_fragment>
          if (uMode == 1) {
            float t = clamp(vMeasure / 24.0, -1.0, 1.0);
            vec3 c = t < -0.4 ? mix(${rgb("throughPale")}, ${rgb("through")}, (-0.4 - t) / 0.6)
              : t < 0.0 ? mix(${rgb("mapPale")}, ${rgb("throughPale")}, t / -0.4)
              : t < 0.36 ? mix(${rgb("mapPale")}, ${rgb("clearPale")}, t / 0.36)
              : mix(${rgb("clearPale")}, ${rgb("clear")}, (t - 0.36) / 0.64);
            c = LIT * pow(c, vec3(2.2)); // mixed as the legend is, and as bright under the stage's lights
            float change = max(fwidth(vMeasure), 1e-4); // none at all where cloth lies evenly: dividing by it is undefined
            float line = abs(fract(vMeasure / 2.0 + 0.5) - 0.5) / (0.5 * change);
            float zero = abs(vMeasure) / change;
            if (abs(vMeasure) < 24.0) c = mix(c * 0.62, c, smoothstep(0.4, 1.1, line));
            diffuseColor.rgb = mix(vec3(0.02, 0.03, 0.04), c, smoothstep(0.9, 1.9, zero));
          } else if (uMode == 2 && vMeasure > 0.02) {
            diffuseColor.rgb = ${linear("through")};
          } else if (uMode == 3) {
            diffuseColor.rgb = mix(diffuseColor.rgb, ${linear("taut")}, 0.85 * smoothstep(0.5, 3.0, vMeasure));
          } else if (uMode == 4) {
            float held = clamp(vMeasure / 1000.0, 0.0, 1.0);
            float weave = step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 6.0));
            diffuseColor.rgb = mix(diffuseColor.rgb, vec3(0.02, 0.035, 0.05), held * (0.45 + 0.4 * weave));
          } else if (uMode == 5) {
            float share = clamp(vMeasure / 1000.0, 0.0, 1.0);
            vec3 paper = vec3(0.90, 0.86, 0.78), ink = vec3(0.02, 0.05, 0.09);
            vec3 c = mix(paper, ink, pow(share, 0.85));
            float line = abs(fract(share * 5.0 + 0.5) - 0.5) / max(fwidth(share * 5.0), 1e-5);
            if (share > 0.02) c = mix(share > 0.5 ? vec3(0.55, 0.52, 0.46) : c * 0.5, c, smoothstep(0.4, 1.2, line));
            diffuseColor.rgb = c;
          } else if (uMode == 6) {
            diffuseColor.rgb = mix(vec3(0.72, 0.70, 0.64), ${linear("taut")}, smoothstep(0.2, 0.8, vMeasure / 1000.0));
          } else if (uMode == 7) {
            float t = clamp(vMeasure / 100.0, -1.0, 1.0);
            vec3 pale = ${linear("mapPale")}, amber = ${linear("taut")}, violet = LIT * ${linear("loose")};
            vec3 c = t < 0.0 ? mix(pale, amber, -t) : mix(pale, violet, t);
            float line = abs(fract(vMeasure / 20.0) - 0.5) / max(fwidth(vMeasure / 20.0), 1e-5);
            diffuseColor.rgb = mix(c * 0.6, c, smoothstep(0.4, 1.1, line));
          }`,
        );
    };
  }

  /** Put the material's textures on, each as it arrives. */
  textured(from: { colour_map?: string | null; normal_map?: string | null; rough_map?: string | null }): void {
    const put = (slot: "map" | "normalMap" | "roughnessMap", address: string | null | undefined) => {
      if (!address) return;
      LOADER.load(`/api/pictures/texture/${address}.png`, (texture) => {
        texture.wrapS = RepeatWrapping;
        texture.wrapT = RepeatWrapping;
        texture.colorSpace = slot === "map" ? SRGBColorSpace : NoColorSpace;
        this[slot] = texture;
        this.needsUpdate = true;
        onTexture();
      });
    };
    put("map", from.colour_map);
    if (quality.smooth) {
      put("normalMap", from.normal_map);
      put("roughnessMap", from.rough_map);
    }
  }

  show(mode: Mode): void {
    this.mode.value = CODE[mode];
  }
}
