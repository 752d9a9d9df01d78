import { invalidate } from "@react-three/fiber";
import {
  Color,
  DoubleSide,
  FrontSide,
  MeshLambertMaterial,
  MeshStandardMaterial,
  NoColorSpace,
  RepeatWrapping,
  SRGBColorSpace,
  TextureLoader,
} from "three";
import { quality } from "./quality";

export type Mode = "plain" | "clearance" | "stands-out" | "trouble" | "protect";
const LOADER = new TextureLoader();
const onTexture = () => invalidate();
const CODE: Record<Mode, number> = { plain: 0, clearance: 1, "stands-out": 2, trouble: 3, protect: 4 };

// the fuller light model costs a software renderer three times the plain one
const Lit = (quality.smooth ? MeshStandardMaterial : MeshLambertMaterial) as typeof MeshStandardMaterial;

/**
 * A lit material that can show the attribute `aMeasure` (metres): clearance as coral - pale - heron with isolines every 2 mm and
 * a firm line at 0, what of the body stands out in coral, where a fit fell short in amber, or the mask (0 to 1) as ink hatching.
 */
export class MapMaterial extends Lit {
  private readonly mode = { value: 0 };

  constructor(colour: number[] | string, roughness: number, metal: number, twoSided: boolean) {
    super({ side: twoSided ? DoubleSide : FrontSide, shadowSide: twoSided ? DoubleSide : FrontSide });
    if (quality.smooth) {
      this.roughness = roughness;
      this.metalness = metal * 0.6;
    }
    if (typeof colour === "string") this.color.set(colour);
    else this.color = new Color().setRGB(colour[0], colour[1], colour[2]);
    this.onBeforeCompile = (shader) => {
      shader.uniforms.uMode = this.mode;
      shader.vertexShader = shader.vertexShader
        .replace("#include <common>", "#include <common>\nattribute float aMeasure;\nvarying float vMeasure;")
        .replace("#include <begin_vertex>", "#include <begin_vertex>\nvMeasure = aMeasure * 1000.0;");
      shader.fragmentShader = shader.fragmentShader
        .replace("#include <common>", "#include <common>\nuniform int uMode;\nvarying float vMeasure;")
        .replace(
          "#include <color_fragment>",
          `#include <color_fragment>
          if (uMode == 1) {
            float t = clamp(vMeasure / 24.0, -1.0, 1.0);
            vec3 pale = vec3(0.86, 0.83, 0.75), coral = vec3(0.66, 0.09, 0.03), heron = vec3(0.05, 0.13, 0.22);
            vec3 c = t < 0.0 ? mix(pale, coral, sqrt(-t)) : mix(pale, heron, pow(t, 0.8));
            float line = abs(fract(vMeasure / 2.0 + 0.5) - 0.5) / fwidth(vMeasure / 2.0);
            float zero = abs(vMeasure) / fwidth(vMeasure);
            if (abs(vMeasure) < 24.0) c = mix(c * 0.62, c, smoothstep(0.4, 1.1, line));
            diffuseColor.rgb = mix(vec3(0.02, 0.03, 0.04), c, smoothstep(0.9, 1.9, zero));
          } else if (uMode == 2 && vMeasure > 0.02) {
            diffuseColor.rgb = vec3(0.66, 0.08, 0.03);
          } else if (uMode == 3) {
            diffuseColor.rgb = mix(diffuseColor.rgb, vec3(0.68, 0.33, 0.02), 0.85 * smoothstep(0.5, 3.0, vMeasure));
          } else if (uMode == 4) {
            float held = clamp(vMeasure / 1000.0, 0.0, 1.0);
            float weave = step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 6.0));
            diffuseColor.rgb = mix(diffuseColor.rgb, vec3(0.02, 0.035, 0.05), held * (0.45 + 0.4 * weave));
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
