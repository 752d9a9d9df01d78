import { Tooltip } from "radix-ui";
import { act, type ReactNode } from "react";
import { createRoot } from "react-dom/client";
import { vi } from "vitest";

vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
vi.stubGlobal(
  "ResizeObserver",
  class {
    observe() {}
    unobserve() {}
    disconnect() {}
  },
);

/** A component as a page shows it, worked by the names a person reads. */
export async function shown(part: ReactNode) {
  const page = document.body.appendChild(document.createElement("div"));
  const root = createRoot(page);
  await act(async () => root.render(<Tooltip.Provider>{part}</Tooltip.Provider>));
  const named = <T extends Element>(what: string, name: string): T => {
    const label = (e: Element) =>
      e.getAttribute("aria-label") ?? e.closest("label")?.textContent ?? e.textContent ?? "";
    const found = [...page.querySelectorAll<T>(what)].find((e) => label(e).startsWith(name));
    if (!found) throw new Error(`no ${what} is called "${name}" in: ${page.textContent}`);
    return found;
  };
  return {
    text: () => page.textContent ?? "",
    rows: (what: string) => [...page.querySelectorAll(what)].map((e) => e.textContent),
    press: (name: string) => act(async () => named<HTMLButtonElement>("button", name).click()),
    tick: (name: string) => act(async () => named<HTMLInputElement>("input", name).click()),
    /** Move a slider by so many of its steps. */
    slide: (name: string, steps: number) =>
      act(async () => {
        const key = steps < 0 ? "ArrowLeft" : "ArrowRight";
        for (let k = 0; k < Math.abs(steps); k++)
          named("[role=slider]", name).dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
      }),
    choose: (name: string, value: string) =>
      act(async () => {
        const select = named<HTMLSelectElement>("select", name);
        select.value = value;
        select.dispatchEvent(new Event("change", { bubbles: true }));
      }),
    close: () => act(async () => root.unmount()),
  };
}
