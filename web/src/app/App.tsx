import { lazy, Suspense, useEffect, useRef } from "react";
import type { Production } from "../api/client";
import { useChanges } from "../api/production/changes";
import { useProduction } from "../api/production/production";
import { useTakeIn } from "../api/stock";
import { droppedFiles } from "../api/wire/uploads";
import { ApartPage } from "../rooms/apart/ApartPage";
import { FittingRoom } from "../rooms/fitting/FittingRoom";
import { usePutOn } from "../rooms/fitting/usePutOn";
import { PackingRoom } from "../rooms/packing/PackingRoom";
import { ProductionsPage } from "../rooms/productions/ProductionsPage";
import { Shelves } from "../rooms/stock/Shelves";
import { TableRoom } from "../rooms/table/TableRoom";
import { useRoom, useRoomOf } from "../store/room";
import { useTour } from "../store/tour";
import { Button } from "../ui/controls";
import { ErrorBoundary } from "../ui/ErrorBoundary";
import { Toasts } from "../ui/Toasts";
import { JobsButton } from "./jobs/JobsButton";
import { TopBar } from "./TopBar";
import { TEXT } from "./texts";

const JobsDialog = lazy(() => import("./jobs/JobsDialog"));
const TourCard = lazy(() => import("./tour/TourCard"));
const SettingsDialog = lazy(() => import("./settings/SettingsDialog"));
const CopiesDialog = lazy(() => import("../rooms/productions/CopiesDialog"));

/** The page of all productions, or the rooms of one. */
export function App() {
  const { place, production, jobs } = useRoomOf("place", "production", "jobs");
  useChanges();
  return (
    <>
      {place === "productions" ? <ProductionsPage tools={<JobsButton />} /> : <Rooms key={production ?? "last"} />}
      {jobs && (
        <Suspense>
          <JobsDialog />
        </Suspense>
      )}
      <Toasts />
    </>
  );
}

function Rooms() {
  const production = useProduction();
  const { place, apart, copies, settings } = useRoomOf("place", "apart", "copies", "settings");
  const touring = useTour((tour) => tour.on);
  const takeIn = useTakeIn();
  const putOn = usePutOn();
  /** Files dropped where nothing else takes them: on the stage they become a piece on the rail, elsewhere they go into stock. */
  const drop = (files: File[]) => {
    const { say } = useRoom.getState();
    if (!files.length) return;
    if (place === "fitting") putOn.bringIn(files);
    else
      takeIn.mutate(
        { files },
        { onSuccess: (batch) => say({ kind: "done", text: TEXT.filesGoIntoStock(batch.rows.length) }) },
      );
  };
  useDroppedFiles(drop);
  useLostAddress(production.data);
  if (production.error)
    return (
      <div className="p-8">
        <h1 className="font-title text-xl">{TEXT.theProductionCannotBe}</h1>
        <p className="mt-2 mb-4 max-w-prose text-soft">{production.error.message}</p>
        <Button onClick={() => useRoom.getState().set({ place: "productions" })}>{TEXT.allProductions}</Button>
      </div>
    );
  if (!production.data) return <p className="p-8 text-soft">{TEXT.openingTheProduction}</p>;
  return (
    <div className="grid h-full grid-rows-[46px_minmax(0,1fr)]">
      <TopBar production={production.data} />
      <ErrorBoundary key={place}>
        {place === "fitting" && <FittingRoom production={production.data} />}
        {place === "table" && <TableRoom production={production.data} />}
        {place === "stock" && (apart === null ? <Shelves /> : <ApartPage key={apart} apart={apart} />)}
        {place === "packing" && <PackingRoom production={production.data} />}
      </ErrorBoundary>
      <Suspense>
        {copies && <CopiesDialog />}
        {touring && <TourCard />}
        {settings && <SettingsDialog key={production.data.id} production={production.data} />}
      </Suspense>
    </div>
  );
}

/** Says so once if the address the page was opened at names what the production has no more. */
function useLostAddress(production: Production | undefined) {
  const asked = useRef(true);
  useEffect(() => {
    if (!production || !asked.current) return;
    asked.current = false;
    const { wearer, piece, set, say } = useRoom.getState();
    const lost = [
      wearer !== null && !production.cast.some((w) => w.id === wearer) && "wearer",
      piece !== null && !production.pieces.some((p) => p.id === piece) && "piece",
    ].filter(Boolean);
    if (!lost.length) return;
    set({
      ...(lost.includes("wearer") && { wearer: null }),
      ...(lost.includes("piece") && { piece: null, step: null }),
    });
    say({
      kind: "problem",
      text: TEXT.theInThisAddress(lost.join(" and the ")),
    });
  }, [production]);
}

/** Files dropped anywhere in the window, handed to `take`; a place of its own that takes a drop keeps it. */
function useDroppedFiles(take: (files: File[]) => void) {
  const latest = useRef(take);
  latest.current = take;
  useEffect(() => {
    const over = (e: DragEvent) => e.preventDefault();
    const drop = (e: DragEvent) => {
      e.preventDefault();
      if (e.dataTransfer) droppedFiles(e.dataTransfer).then((files) => latest.current(files));
    };
    window.addEventListener("dragover", over);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", over);
      window.removeEventListener("drop", drop);
    };
  }, []);
}
