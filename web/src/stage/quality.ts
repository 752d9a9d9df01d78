/**
 * How the stage draws on this machine. Without a graphics processor every vertex and pixel is the CPU's work: the stage then draws
 * the figure's coarser level and leaves smoothing and cast shadows out.
 */
export interface Quality {
  level: 1 | 2;
  shadows: boolean;
  smooth: boolean;
}

const FULL: Quality = { level: 2, shadows: true, smooth: true };
const LIGHT: Quality = { level: 1, shadows: false, smooth: false };

function drawnBySoftware(): boolean {
  const context = document.createElement("canvas").getContext("webgl2");
  if (!context) return true;
  const info = context.getExtension("WEBGL_debug_renderer_info");
  const name = info ? String(context.getParameter(info.UNMASKED_RENDERER_WEBGL)) : "";
  return /swiftshader|llvmpipe|software|basic render/i.test(name);
}

function chosen(): Quality {
  const asked = new URLSearchParams(location.search).get("stage");
  if (asked === "full") return FULL;
  if (asked === "light") return LIGHT;
  return drawnBySoftware() ? LIGHT : FULL;
}

export const quality: Quality = chosen();
