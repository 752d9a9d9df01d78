/** Made for each file of tests: what a page without layout lacks and Radix asks for. Files share their modules, which saves two thirds of
 * the time, so nothing here may rest on what another file has left. */
import { vi } from "vitest";

if (typeof Element !== "undefined") {
  Element.prototype.scrollIntoView = () => {};
  Element.prototype.hasPointerCapture = () => false;
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  );
}
