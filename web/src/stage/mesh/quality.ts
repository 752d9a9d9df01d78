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

interface Drawing {
  canvas: HTMLCanvasElement;
  context: WebGL2RenderingContext;
}

function drawing(smooth: boolean, hardware: boolean): Drawing | null {
  const canvas = document.createElement("canvas");
  const context = canvas.getContext("webgl2", {
    alpha: true,
    depth: true,
    stencil: false,
    antialias: smooth,
    powerPreference: "high-performance",
    failIfMajorPerformanceCaveat: hardware,
  });
  return context && { canvas, context };
}

function drawnBySoftware({ context }: Drawing): boolean {
  const info = context.getExtension("WEBGL_debug_renderer_info");
  const name = info ? String(context.getParameter(info.UNMASKED_RENDERER_WEBGL)) : "";
  return /swiftshader|llvmpipe|software|basic render/i.test(name);
}

/** A drawing context is slow to come by while the page is being painted, so the stage's own is asked for before the first paint. */
function chosen(): [Quality, Drawing | null] {
  const asked = new URLSearchParams(location.search).get("stage");
  if (asked === "light") return [LIGHT, drawing(false, false)];
  if (asked === "full") return [FULL, drawing(true, false)];
  const hardware = drawing(true, true);
  if (hardware && !drawnBySoftware(hardware)) return [FULL, hardware];
  hardware?.context.getExtension("WEBGL_lose_context")?.loseContext();
  return [LIGHT, drawing(false, false)];
}

const [found, early] = chosen();
export const quality: Quality = found;

let waiting = early;

/** The context made at the start, for the first stage that asks; later stages make their own. */
export function earlyDrawing(): Drawing | null {
  const taken = waiting;
  waiting = null;
  return taken;
}
