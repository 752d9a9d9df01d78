import { useEffect, useRef } from "react";
import { useBringIn, useChanges, useProduction } from "./api/hooks";
import { useTakeIn } from "./api/stock";
import { droppedFiles } from "./api/uploads";
import { FittingRoom } from "./rooms/fitting/FittingRoom";
import { PackingRoom } from "./rooms/packing/PackingRoom";
import { StockRoom } from "./rooms/stock/StockRoom";
import { TopBar } from "./rooms/TopBar";
import { TableRoom } from "./rooms/table/TableRoom";
import { useRoom } from "./store/room";
import { Mishap } from "./ui/Mishap";
import { Sayings } from "./ui/Sayings";

export function App() {
  const production = useProduction();
  const place = useRoom((s) => s.place);
  const takeIn = useTakeIn();
  const bringIn = useBringIn();
  useChanges();
  /** Files dropped where nothing else takes them: on the stage they become a piece on the rail, elsewhere they go into stock. */
  const drop = (files: File[]) => {
    const { set, say } = useRoom.getState();
    if (!files.length) return;
    if (place === "fitting")
      bringIn.files.mutate(files, { onSuccess: (piece) => set({ piece: piece.id, step: "receive", map: "cloth" }) });
    else
      takeIn.mutate(
        { files },
        { onSuccess: (batch) => say({ kind: "done", text: `${batch.rows.length} files go into stock.` }) },
      );
  };
  useDroppedFiles(drop);
  if (production.isPending) return <p className="p-8 text-soft">Opening the production…</p>;
  if (production.isError)
    return (
      <div className="p-8">
        <h1 className="font-title text-xl">The production cannot be shown</h1>
        <p className="mt-2 max-w-prose text-soft">{production.error.message}</p>
      </div>
    );
  return (
    <div className="grid h-full grid-rows-[46px_minmax(0,1fr)]">
      <TopBar production={production.data} />
      <Mishap key={place}>
        {place === "fitting" && <FittingRoom production={production.data} />}
        {place === "table" && <TableRoom production={production.data} />}
        {place === "stock" && <StockRoom />}
        {place === "packing" && <PackingRoom production={production.data} />}
      </Mishap>
      <Sayings />
    </div>
  );
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
