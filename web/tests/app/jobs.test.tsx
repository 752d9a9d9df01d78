// @vitest-environment jsdom
import { act } from "react";
import { beforeEach, expect, test } from "vitest";
import type { JobLine } from "../../src/api/jobs";
import { howLong } from "../../src/app/jobs/howLong";
import { JobsButton } from "../../src/app/jobs/JobsButton";
import JobsDialog from "../../src/app/jobs/JobsDialog";
import { house, Refusal } from "../house";
import { settled, shown } from "../shown";
import { room, roomNow, said } from "../world";

const job = (to: Partial<JobLine> = {}): JobLine => ({
  job: 41,
  task: "evaluate_edit",
  subject: "Oilskin coat",
  production: 4,
  author: "Wrenna",
  state: "doing",
  asked_at: "2026-11-02T08:00:00Z",
  begun_at: "2026-11-02T08:00:01Z",
  done: 0,
  total: 0,
  count: 1,
  why: null,
  can_stop: true,
  ...to,
});
const SHEET = job({ job: 50, task: "measure_wearer", subject: "", author: "", done: 120, total: 400, count: 7 });
const FAILED = job({ job: 60, state: "failed", why: "it took longer than 5 min", can_stop: false });

beforeEach(() => room({ production: 4, jobs: true }));

async function opened(jobs: JobLine[], answers: Record<string, unknown> = {}) {
  const server = house({
    "GET /api/jobs": () => jobs,
    "GET /api/productions": [{ id: 4, name: "The Reedmarsh Night Post" }],
    ...answers,
  });
  await shown(<JobsDialog />);
  await settled();
  const dialog = () => document.querySelector("[role=dialog]") as HTMLElement;
  const press = (name: string) =>
    act(async () => [...dialog().querySelectorAll("button")].find((b) => b.textContent === name)?.click());
  return {
    server,
    press,
    rows: () => [...dialog().querySelectorAll("li")].map((row) => row.textContent ?? ""),
    dialog,
  };
}

test("each job is told with what it does, to what, for whom, and since when", async () => {
  const { rows } = await opened([job(), SHEET]);
  expect(rows()[0]).toMatch(/^Run the steps · Oilskin coatThe Reedmarsh Night Post · Wrenna · for \d/);
  expect(rows()[1]).toContain("Trial sheet");
  expect(rows()[1]).toContain("120 of 400");
});

test("stopping asks the server, and what cannot be stopped offers nothing", async () => {
  const { server, press } = await opened([job()], { "POST /api/jobs/41/stop": null });
  await press("Stop");
  expect(server.sent("POST /api/jobs/41/stop")).toHaveLength(1);
});

test("a failed job tells why, and is tried again or taken off the list", async () => {
  const { server, press, rows } = await opened([FAILED], {
    "POST /api/jobs/60/again": null,
    "DELETE /api/jobs/60": null,
  });
  expect(rows()[0]).toContain("it took longer than 5 min");
  expect(rows()[0]).not.toContain("Stop");
  await press("Try again");
  await press("Take off the list");
  expect(server.sent("POST /api/jobs/60/again")).toHaveLength(1);
  expect(server.sent("DELETE /api/jobs/60")).toHaveLength(1);
});

test("a refusal is told", async () => {
  const { press } = await opened([job()], { "POST /api/jobs/41/stop": new Refusal(404, "there is no job 41") });
  await press("Stop");
  await settled();
  expect(said()?.text).toContain("there is no job 41");
});

test("an empty list says so", async () => {
  const { dialog } = await opened([]);
  expect(dialog().textContent).toContain("Nothing is being done");
});

test("the button in the top bar counts what is under way and says what failed", async () => {
  house({ "GET /api/jobs": [job(), SHEET] });
  room({ jobs: false });
  const { page } = await shown(<JobsButton />);
  await settled();
  expect(page.querySelector("button")?.getAttribute("aria-label")).toBe("2 jobs");
  await act(async () => page.querySelector("button")?.click());
  expect(roomNow().jobs).toBe(true);
});

test("a time is said in the largest unit that tells it", () => {
  const from = (seconds: number) => howLong(new Date(0), new Date(1000 * seconds));
  expect([from(0), from(59), from(60), from(3599), from(3600), from(7260)]).toEqual([
    "0 s",
    "59 s",
    "1 min",
    "59 min",
    "1 h 0 min",
    "2 h 1 min",
  ]);
});
