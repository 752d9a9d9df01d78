import { useRoom } from "../../store/room";
import { ApartPage } from "../apart/ApartPage";
import { Shelves } from "./Shelves";

/** The stockroom: everything the studio keeps, found as you type; and the page where dressed bodies are taken apart. */
export function StockRoom() {
  const apart = useRoom((s) => s.apart);
  return apart === null ? <Shelves /> : <ApartPage key={apart} apart={apart} />;
}
