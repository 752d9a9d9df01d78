import { Tooltip } from "radix-ui";
import { act, type ReactNode } from "react";
import { createRoot } from "react-dom/client";

const press = (on: Element) => on.dispatchEvent(new KeyboardEvent("keydown", { key: "Enter", bubbles: true }));

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
    tick: (name: string) => act(async () => named<HTMLButtonElement>("[role=checkbox]", name).click()),
    /** Move a slider by so many of its steps. */
    slide: (name: string, steps: number) =>
      act(async () => {
        const key = steps < 0 ? "ArrowLeft" : "ArrowRight";
        for (let k = 0; k < Math.abs(steps); k++)
          named("[role=slider]", name).dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
      }),
    /** Open a list by the keyboard and take the option of this value. */
    choose: async (name: string, value: string) => {
      await act(async () => press(named("[role=combobox]", name)));
      const option = document.querySelector(`[role=option][data-value="${value}"]`);
      if (!option) throw new Error(`"${name}" has no option "${value}"`);
      await act(async () => press(option));
    },
    close: () => act(async () => root.unmount()),
  };
}
