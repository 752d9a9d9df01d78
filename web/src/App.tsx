import { useChanges, useProduction } from "./api/hooks";
import { FittingRoom } from "./rooms/fitting/FittingRoom";
import { PackingRoom } from "./rooms/packing/PackingRoom";
import { StockRoom } from "./rooms/stock/StockRoom";
import { TopBar } from "./rooms/TopBar";
import { useRoom } from "./state/room";
import { Sayings } from "./ui/Sayings";

export function App() {
  const production = useProduction();
  const place = useRoom((s) => s.place);
  useChanges();
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
      {place === "fitting" && <FittingRoom production={production.data} />}
      {place === "stock" && <StockRoom />}
      {place === "packing" && <PackingRoom production={production.data} />}
      <Sayings />
    </div>
  );
}
