// @vitest-environment jsdom
import { beforeEach, expect, test } from "vitest";
import { TourButton } from "../../src/app/tour/TourButton";
import TourCard from "../../src/app/tour/TourCard";
import { goOnTour, STOPS, useTour } from "../../src/store/tour";
import { shown } from "../shown";
import { room, roomNow } from "../world";

beforeEach(() => {
  localStorage.clear();
  useTour.setState({ on: false, at: 0, done: false });
  room({ place: "stock", sheet: true, step: null });
});

test("each stop opens what it is about, marks it, and goes both ways", async () => {
  const page = await shown(
    <>
      <div data-step="place" />
      <div data-step="fit" />
      <TourCard />
    </>,
  );
  const marked = () => [...page.page.querySelectorAll("[data-toured]")].map((e) => e.getAttribute("data-step"));
  expect(roomNow()).toMatchObject({ place: "fitting", sheet: false, step: "place" });
  expect(marked()).toEqual(["place"]);
  await page.press("Next");
  expect(roomNow().step).toBe("fit");
  expect(marked()).toEqual(["fit"]);
  await page.press("Next");
  expect(roomNow().sheet).toBe(true);
  await page.press("Back");
  expect(roomNow()).toMatchObject({ sheet: false, step: "fit" });
});

test("it is left where it stands, and goes on from there after a reload", async () => {
  goOnTour();
  const card = await shown(<TourCard />);
  for (let k = 0; k < 3; k++) await card.press("Next");
  await card.press("Leave the tour");
  expect(useTour.getState().on).toBe(false);
  expect(localStorage.getItem("wily-heron.tour")).toBe("3");
  const offer = await shown(<TourButton />);
  await offer.press("Resume the tour: 4 of 8");
  expect(useTour.getState()).toMatchObject({ on: true, at: 3 });
});

test("gone through, it is offered in the top bar no more, and begins anew from the menu", async () => {
  useTour.setState({ on: true, at: STOPS.length - 1 });
  const card = await shown(<TourCard />);
  expect(roomNow().place).toBe("packing");
  await card.press("Finish");
  expect(useTour.getState()).toMatchObject({ on: false, done: true });
  const offer = await shown(<TourButton />);
  expect(offer.text()).toBe("");
  goOnTour();
  expect(useTour.getState()).toMatchObject({ on: true, at: 0 });
  const again = await shown(<TourCard />);
  await again.press("Next");
  await again.press("Leave the tour");
  const resumed = await shown(<TourButton />);
  expect(resumed.has("button", "Resume the tour: 2 of 8")).toBe(true);
});
