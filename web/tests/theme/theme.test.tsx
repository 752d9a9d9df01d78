// @vitest-environment jsdom
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { chooseLamp, lightPage, useLamp } from "../../src/theme/theme";
import { shown } from "../shown";

let dark = false;
let heard: (() => void)[] = [];
const lit = () => (document.documentElement.hasAttribute("data-lamp") ? "lamp" : "day");
/** The system goes over to light or dark. */
const system = (to: boolean) => {
  dark = to;
  for (const hear of heard) hear();
};

function Lamp() {
  return <p>{useLamp() ? "lamp" : "day"}</p>;
}

beforeEach(() => {
  dark = false;
  heard = [];
  localStorage.clear();
  vi.stubGlobal("matchMedia", () => ({
    get matches() {
      return dark;
    },
    addEventListener: (_: string, hear: () => void) => heard.push(hear),
  }));
  lightPage();
});
afterEach(() => vi.unstubAllGlobals());

test("the page is lit as the system is set, and goes along with it", () => {
  expect(lit()).toBe("day");
  system(true);
  expect(lit()).toBe("lamp");
});

test("what an artist chooses is kept over a reload and over a change of the system", () => {
  chooseLamp(true);
  expect(lit()).toBe("lamp");
  system(true);
  system(false);
  lightPage(); // the page is loaded again
  expect(lit()).toBe("lamp");
});

test("who chooses what the system has anyway goes on following it", () => {
  chooseLamp(true);
  chooseLamp(false);
  expect(localStorage).toHaveLength(0);
  system(true);
  expect(lit()).toBe("lamp");
});

test("what is drawn by it is drawn anew when the light changes", async () => {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  vi.stubGlobal("ResizeObserver", class {});
  const page = await shown(<Lamp />);
  expect(page.text()).toBe("day");
  await act(async () => chooseLamp(true));
  expect(page.text()).toBe("lamp");
  await page.close();
});
