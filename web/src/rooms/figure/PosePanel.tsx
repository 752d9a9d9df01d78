import clsx from "clsx";
import { Check, Hand, Play, Plus, Square, Trash2 } from "lucide-react";
import { Fragment } from "react";
import type { Production, Wearer } from "../../api/client";
import { useMotions, useOwnPose, usePoseAxis, usePoseLibrary } from "../../api/posing";
import { useRoomOf } from "../../store/room";
import { PanelTool, StagePanel } from "../../ui/StagePanel";
import { TEXT } from "./texts";

/** The pose library by family; a click puts a pose on the axis and goes there, a click on its mark takes it off. */
export function PosePanel({ production, wearer }: { production: Production; wearer: Wearer }) {
  const { set, pose, motion } = useRoomOf("set", "pose", "motion");
  const motions = useMotions();
  const { forget } = useOwnPose();
  const standing = production.poses.find((p) => p.name === pose);
  const library = usePoseLibrary();
  const axis = usePoseAxis();
  const there = new Set(production.poses.map((p) => p.name));
  const families = [...new Set(library.data?.map((p) => p.family) ?? [])];
  return (
    <StagePanel
      title={TEXT.poses}
      label={TEXT.poseLibrary}
      tools={
        !wearer.body && (
          <PanelTool
            name={TEXT.poseByHand}
            hint={TEXT.poseByHandStarting}
            onClick={() =>
              set({
                motion: null,
                posing: {
                  rotations: standing?.rotations ?? {},
                  joint: null,
                  degrees: [],
                  short: 0,
                  past: [],
                  next: [],
                },
              })
            }
          >
            <Hand size={14} />
            <span className="ml-1 text-[12px]">{TEXT.byHand}</span>
          </PanelTool>
        )
      }
    >
      {library.isError && <p className="text-[12px] text-amber">{library.error.message}</p>}
      {families.map((family) => (
        <Fragment key={family}>
          <h3 className="mt-2 border-b border-dashed border-rule pb-0.5 text-[11.5px] text-soft first-letter:uppercase">
            {family}
          </h3>
          <div className="grid grid-cols-3 gap-1 py-1">
            {library.data
              ?.filter((p) => p.family === family)
              .map((p) => (
                <div key={p.name} className="relative">
                  <button
                    type="button"
                    aria-pressed={pose === p.name}
                    className={clsx(
                      "flex w-full cursor-pointer flex-col items-center rounded-[3px] border pb-1",
                      pose === p.name ? "border-heron" : "border-transparent hover:border-rule",
                    )}
                    onClick={() =>
                      there.has(p.name)
                        ? set({ pose: p.name })
                        : axis.add.mutate(p.name, { onSuccess: () => set({ pose: p.name }) })
                    }
                  >
                    <img
                      src={`/api/pictures/wearer/${wearer.id}.png?pose=${p.name}&v=${JSON.stringify(wearer.shape)}`}
                      alt=""
                      loading="lazy"
                      width={54}
                      height={63}
                    />
                    <span className="text-center text-[11px] leading-tight">{p.label}</span>
                  </button>
                  {there.has(p.name) ? (
                    <button
                      type="button"
                      aria-label={TEXT.takeOffTheAxis(p.label)}
                      title={TEXT.onTheAxisTake}
                      className="absolute top-0.5 right-0.5 cursor-pointer text-moss hover:text-ink"
                      onClick={() => axis.drop.mutate(p.name)}
                    >
                      <Check size={13} />
                    </button>
                  ) : p.family === "own" ? (
                    <button
                      type="button"
                      aria-label={TEXT.forget(p.label)}
                      title={TEXT.forgetThisPose}
                      className="absolute top-0.5 right-0.5 cursor-pointer text-soft hover:text-ink"
                      onClick={() => forget.mutate(p.name)}
                    >
                      <Trash2 size={13} />
                    </button>
                  ) : (
                    <Plus size={13} className="pointer-events-none absolute top-0.5 right-0.5 text-soft" aria-hidden />
                  )}
                </div>
              ))}
          </div>
        </Fragment>
      ))}
      <h3 className="mt-2 border-b border-dashed border-rule pb-0.5 text-[11.5px] text-soft">{TEXT.motions}</h3>
      {motions.data?.map((m) => (
        <button
          key={m.name}
          type="button"
          aria-pressed={motion === m.name}
          className="flex w-full cursor-pointer items-center gap-1.5 py-1 text-[12.5px] hover:text-heron aria-pressed:text-heron"
          onClick={() => set({ motion: motion === m.name ? null : m.name })}
        >
          {motion === m.name ? <Square size={12} /> : <Play size={12} />}
          {m.label}
          <span className="ml-auto text-soft">{m.seconds.toFixed(1)} s</span>
        </button>
      ))}
    </StagePanel>
  );
}
