import type { Pair } from "../../../recipe/pairs";
import { closeOn } from "../../../stage/shotView";
import { useRoomOf } from "../../../store/room";
import { Hint } from "../../../ui/controls";
import { TEXT } from "./texts";

interface Props {
  /** Deepest first. */
  places: { place: Pair["places"][number]; under: string }[];
  measured: boolean;
}

/** Where something shows through the piece in this cell: a click looks at it closely. */
export function ShownPlaces({ places, measured }: Props) {
  const { set } = useRoomOf("set");
  if (!places.length)
    return <p className="text-moss">{measured ? TEXT.nothingUnderItShows : TEXT.measuringThisCell}</p>;
  return (
    <table className="w-full">
      <tbody>
        {places.slice(0, 6).map(({ place, under }) => (
          <tr key={`${under} ${place.centre.join()}`}>
            <td className="py-0.5">
              <Hint text={TEXT.lookAtItClosely} side="left">
                <button
                  type="button"
                  className="cursor-pointer text-left underline decoration-rule underline-offset-2 first-letter:uppercase hover:text-heron"
                  onClick={() => set({ look: closeOn(place.centre, place.seen_along) })}
                >
                  {place.name === under ? under : `${under}, ${place.name}`}
                </button>
              </Hint>
            </td>
            <td className="pl-2 text-right whitespace-nowrap text-soft">{TEXT.cm(place.area_cm2.toFixed(2))}</td>
            <td className="pl-2 text-right font-semibold whitespace-nowrap text-coral">
              {TEXT.mm(place.depth_mm.toFixed(1))}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
