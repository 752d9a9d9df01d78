// @vitest-environment jsdom
import { act } from "react";
import { afterEach, expect, it, vi } from "vitest";
import { useRoom } from "../../src/store/room";
import { Check } from "../../src/ui/Check";
import { Choice, Select } from "../../src/ui/Select";
import { Toasts } from "../../src/ui/Toasts";
import { shown } from "../shown";

afterEach(() => vi.useRealTimers());

const joints = (onChoose: (value: string) => void, value: string | number = "") => (
  <Select label="Joint" value={value} onChoose={onChoose}>
    <option value="">none</option>
    <optgroup label="Bears some of it">
      <option value="l_elbow">left elbow</option>
      {[7, 8].map((n) => (
        <option key={n} value={n}>
          vertebra {n}
        </option>
      ))}
    </optgroup>
    <option>as written</option>
  </Select>
);

it("a list shows what is chosen, numbers and nothing among it", async () => {
  for (const [value, text] of [
    ["", "none"],
    ["l_elbow", "left elbow"],
    [8, "vertebra 8"],
    ["as written", "as written"],
    ["gone", ""],
  ] as const) {
    const page = await shown(joints(() => {}, value));
    expect(page.text()).toBe(text);
    await page.close();
  }
});

it("a list exists only while it is open, with its headings, and hands on the value that was taken", async () => {
  const taken: string[] = [];
  const page = await shown(joints((v) => taken.push(v), "l_elbow"));
  expect(document.querySelectorAll("[role=option]").length).toBe(0);
  await page.choose("Joint", "8");
  await page.choose("Joint", "");
  await page.choose("Joint", "as written");
  expect(taken).toEqual(["8", "", "as written"]);
  expect(document.querySelectorAll("[role=option]").length).toBe(0);
  await page.close();
});

it("an option that cannot be taken is not", async () => {
  const taken = vi.fn();
  const page = await shown(
    <Choice word="Keep it" value="pose" onChoose={taken}>
      <option value="pose">for the pose</option>
      <option value="rest" disabled>
        for good
      </option>
    </Choice>,
  );
  await page.choose("Keep it", "rest");
  expect(taken).not.toHaveBeenCalled();
  await page.close();
});

it("a check says what it is asked to become, unless it is off", async () => {
  const became = vi.fn();
  const page = await shown(
    <>
      <Check checked onChange={became}>
        both sides
      </Check>
      <Check checked={false} disabled onChange={became}>
        elastic
      </Check>
    </>,
  );
  await page.tick("both sides");
  await page.tick("elastic");
  expect(became.mock.calls).toEqual([[false]]);
  await page.close();
});

it("what is done goes by itself, a problem stays until it is closed", async () => {
  vi.useFakeTimers();
  const { say } = useRoom.getState();
  const page = await shown(<Toasts />);
  const pass = (ms: number) => act(async () => void vi.advanceTimersByTime(ms));
  await act(async () => say({ kind: "done", text: "Coat is packed." }));
  expect(page.text()).toContain("Coat is packed.");
  await pass(4500);
  expect(useRoom.getState().saying).toBe(null);
  await act(async () => say({ kind: "problem", text: "The file holds no faces." }));
  await pass(60_000);
  expect(page.text()).toContain("The file holds no faces.");
  await page.press("Close");
  expect(useRoom.getState().saying).toBe(null);
  await page.close();
});
