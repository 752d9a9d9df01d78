import { afterEach } from "vitest";
import { forgetKept } from "../src/store/kept";

/** Made for each file of tests: what a page without layout lacks and Radix asks for, and requests that go to the house of the test
 * (`tests/house.ts`). Files share their modules, which saves two thirds of the time, so nothing here may rest on what another file has left. */
type Answer = (request: Request) => Promise<Response>;
declare global {
  var answersRequests: Answer | undefined;
  var outsideFetch: typeof fetch | undefined;
  var outsideRequest: typeof Request | undefined;
}

// kept once a thread: a later file must not wrap what an earlier one has put here
globalThis.outsideFetch ??= globalThis.fetch;
globalThis.outsideRequest ??= globalThis.Request;
const Plain = globalThis.outsideRequest;

globalThis.Request = class extends Plain {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    // an address without a host is the page's own; a signal of the page's is not one of the network's
    const { signal: _, ...rest } = init ?? {};
    super(typeof input === "string" && input.startsWith("/") ? `http://house${input}` : input, rest);
    if (init?.body instanceof FormData) Object.assign(this, { form: init.body }); // the page's own kind, which the network cannot read
  }
};
globalThis.fetch = (input, init) => {
  if (globalThis.answersRequests) return globalThis.answersRequests(new Request(input, init));
  return (globalThis.outsideFetch as typeof fetch)(input, init);
};

if (typeof Element !== "undefined") {
  Element.prototype.scrollIntoView = () => {};
  Element.prototype.hasPointerCapture = () => false;
  // not by a stub: a test that takes its own stubs back would take these along
  Object.assign(globalThis, {
    IS_REACT_ACT_ENVIRONMENT: true,
    ResizeObserver: class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  });
}

afterEach(forgetKept); // a panel remembers what was set at it
