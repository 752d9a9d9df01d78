import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { act, type ReactNode } from "react";
import { createRoot } from "react-dom/client";
import { onTestFinished } from "vitest";
import { useRoom } from "../src/store/room";
import { houseActs } from "./house";

const press = (on: Element, key = "Enter") => on.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
const write = (field: HTMLInputElement, text: string) => {
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set?.call(field, text); // as React hears of it
  field.dispatchEvent(new Event("input", { bubbles: true }));
};

/** A component as a page shows it, worked by the names a person reads. It is gone when the test ends. */
export async function shown(part: ReactNode) {
  const page = document.body.appendChild(document.createElement("div"));
  const root = createRoot(page);
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const render = (now: ReactNode) =>
    act(async () =>
      root.render(
        <QueryClientProvider client={client}>
          <Tooltip.Provider>{now}</Tooltip.Provider>
        </QueryClientProvider>,
      ),
    );
  let open = true;
  const close = async () => {
    if (!open) return;
    open = false;
    await act(async () => root.unmount());
    client.clear();
    page.remove();
  };
  onTestFinished(close);
  await render(part);
  const label = (e: Element) => e.getAttribute("aria-label") ?? e.closest("label")?.textContent ?? e.textContent ?? "";
  const all = <T extends Element>(what: string, name: string) =>
    [...page.querySelectorAll<T>(what)].filter((e) => label(e).trim().startsWith(name));
  const named = <T extends Element>(what: string, name: string): T => {
    const found = all<T>(what, name).sort(
      (a, b) => Number(label(b).trim() === name) - Number(label(a).trim() === name),
    )[0];
    if (!found) throw new Error(`no ${what} is called "${name}" in: ${page.textContent}`);
    return found;
  };
  return {
    page,
    client,
    render,
    close,
    text: () => page.textContent ?? "",
    rows: (what: string) => [...page.querySelectorAll(what)].map((e) => e.textContent),
    has: (what: string, name: string) => all(what, name).length > 0,
    named,
    press: (name: string) => act(async () => named<HTMLButtonElement>("button, a, summary", name).click()),
    disabled: (name: string) => named<HTMLButtonElement>("button", name).disabled,
    pressed: (name: string) => named("button", name).getAttribute("aria-pressed"),
    tick: (name: string) => act(async () => named<HTMLButtonElement>("[role=checkbox]", name).click()),
    ticked: (name: string) => named("[role=checkbox]", name).getAttribute("aria-checked") === "true",
    key: (what: string, name: string, key: string) => act(async () => press(named(what, name), key)),
    /** Write into a field, and keep it by Enter. */
    write: async (name: string, text: string, end: string | null = "Enter") => {
      const field = named<HTMLInputElement>("input", name);
      await act(async () => write(field, text));
      if (end) await act(async () => press(field, end));
    },
    value: (name: string) => named<HTMLInputElement>("input", name).value,
    /** Move a slider by so many of its steps. */
    slide: async (name: string, steps: number) => {
      const key = steps < 0 ? "ArrowLeft" : "ArrowRight";
      for (let k = 0; k < Math.abs(steps); k++) await act(async () => press(named("[role=slider]", name), key));
    },
    /** The options of a list. */
    options: async (name: string) => {
      await act(async () => press(named("[role=combobox]", name)));
      const found = [...document.querySelectorAll("[role=option]")].map((e) => e.textContent);
      await act(async () => press(document.querySelector("[role=option]") as Element, "Escape"));
      return found;
    },
    /** Open a list by the keyboard and take the option of this value. */
    choose: async (name: string, value: string) => {
      await act(async () => press(named("[role=combobox]", name)));
      const option = document.querySelector(`[role=option][data-value="${value}"]`);
      if (!option) throw new Error(`"${name}" has no option "${value}"`);
      await act(async () => press(option));
    },
    /** Choose files by a button that opens the file dialog. */
    files: async (name: string, files: File[]) => {
      const field = named<HTMLInputElement>("input[type=file]", name);
      Object.defineProperty(field, "files", { value: files, configurable: true });
      await act(async () => field.dispatchEvent(new Event("change", { bubbles: true })));
    },
  };
}

/** Let what has been asked for arrive: until the house has had nothing to do for some turns of the loop. */
export const settled = () =>
  act(async () => {
    for (let quiet = 0, seen = -1; quiet < 6; quiet++) {
      await new Promise((done) => setTimeout(done));
      if (seen !== houseActs()) quiet = 0;
      seen = houseActs();
    }
  });

/** What the artist picks on the stage: vertices of the piece, and points in space. */
export const picked = (rows: number[], points: [number, number, number][] = []) =>
  act(async () => useRoom.getState().picking?.done({ rows, points }));
