import { X } from "lucide-react";
import { useMemo } from "react";
import type { Production, Wearer } from "../../api/client";
import { useFitting } from "../../bench/useFitting";
import { dressedIn } from "../../recipe/outfits";
import { Stage } from "../../stage/Stage";
import type { Worn } from "../../stage/useMaps";
import { Wardrobe } from "../../stage/Wardrobe";
import { useRoomOf } from "../../store/room";
import { Hint } from "../../ui/controls";
import { Verdict } from "./StageFurniture";
import { shownOn } from "./shownOn";
import { TEXT } from "./texts";

interface Props {
  production: Production;
  wearer: Wearer;
  /** The outfit that is looked at beside the one the wearer has on. */
  outfit: number;
}

/** The wearer once more in another of the outfits, in the same pose and from the same side, with what is measured of it. */
export function StageBeside({ production, wearer, outfit }: Props) {
  const { map, glance, set } = useRoomOf("map", "glance", "set");
  const other = useMemo(() => dressedIn(production, wearer.id, outfit), [production, wearer.id, outfit]);
  const fitting = useFitting(other, "beside");
  const { figure, names, measured } = fitting;
  const mode = glance === "clearance" ? "clearance" : map;
  const worn = useMemo<Worn[]>(
    () =>
      fitting.worn.map(({ piece, mesh }) => ({
        id: piece.id,
        mesh,
        see: glance === "through" ? "through" : "solid",
        ...shownOn(null, mesh, mode, measured, names.get(piece.id) ?? piece.name),
        wire: map === "mesh",
      })),
    [fitting.worn, glance, mode, measured, names, map],
  );
  const name = production.outfits.find((o) => o.id === outfit)?.name ?? "";
  return (
    <section
      aria-label={TEXT.wearerIn(wearer.name, name)}
      className="absolute inset-y-0 right-0 left-1/2 border-l border-rule"
    >
      <Stage label={TEXT.wearerIn(wearer.name, name)}>
        {figure.data && (
          <Wardrobe
            key={fitting.own?.body ?? "figure"}
            figure={figure.data}
            shape={fitting.shape}
            pose={fitting.pose}
            worn={worn}
            standsOut={measured?.frame.array<Float32Array>("stands_out") ?? null}
            holes={measured?.frame.array<Int32Array>("hole_faces") ?? null}
            bodyMode="stands-out"
            wire={map === "mesh"}
            jump={false}
          />
        )}
      </Stage>
      <div className="absolute top-14 left-2 max-w-[10rem] rounded-[3px] bg-paper/85 px-2 pt-1 pb-1.5 text-[12.5px]">
        <div className="flex items-center gap-2">
          <h2 className="font-title text-[17px] leading-tight font-semibold">{name}</h2>
          <Hint text={TEXT.stopComparing}>
            <button
              type="button"
              aria-label={TEXT.stopComparing}
              className="cursor-pointer p-0.5 text-soft hover:text-ink"
              onClick={() => set({ beside: null })}
            >
              <X size={14} />
            </button>
          </Hint>
        </div>
        <Verdict fitting={fitting} />
      </div>
    </section>
  );
}
