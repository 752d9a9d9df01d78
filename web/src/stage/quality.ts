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

/** `index.html` finds out before anything else loads; `?stage=full` or `?stage=light` chooses by hand. */
export const quality: Quality = globalThis.document?.documentElement.dataset.stage === "full" ? FULL : LIGHT;
