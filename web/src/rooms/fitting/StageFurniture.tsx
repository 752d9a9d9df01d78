import clsx from "clsx";
import { Camera, PersonStanding, Ruler, Shapes } from "lucide-react";
import type { Production } from "../../api/client";
import type { Fitting } from "../../bench/useFitting";
import { clearanceNamed, depthOf, pairNamed, worstPair } from "../../recipe/pairs";
import { type MapKind, type Panel, useRoom, useRoomOf } from "../../store/room";
import { Button, Hint } from "../../ui/controls";
import { TEXT } from "./texts";

const MAPS: [MapKind, string, string][] = [
  ["cloth", TEXT.cloth, TEXT.thePiecesAsThey],
  ["clearance", TEXT.clearance, TEXT.howFarEachPoint],
  ["weights", TEXT.weights, TEXT.howMuchOfThe],
  ["mesh", TEXT.mesh, TEXT.theEdges],
];

const PANELS: [Panel, string, string, typeof Ruler][] = [
  ["shape", TEXT.shape, TEXT.shapeOfThisWearer, Shapes],
  ["measures", TEXT.measures, TEXT.bodyMeasuresOfThis, Ruler],
  ["poses", TEXT.poses, TEXT.poseLibraryP, PersonStanding],
  ["shots", TEXT.shots, TEXT.theFilmsCamerasAnd, Camera],
];

/** Title, maps, legend and the turntable rail, laid over the stage. */
export function StageFurniture({ fitting }: { production: Production; fitting: Fitting }) {
  const { map, glance, step, set, panel, motion, draping, drapedThrough, fallen, weights, look } = useRoomOf(
    "map",
    "glance",
    "step",
    "set",
    "panel",
    "motion",
    "draping",
    "drapedThrough",
    "fallen",
    "weights",
    "look",
  );
  const close = useRoom(isClose);
  const { wearer, pose, cell, bound } = fitting;
  const shown = glance === "clearance" ? "clearance" : map;
  return (
    <>
      <div
        className={clsx(
          "pointer-events-none absolute top-3 left-5 max-w-[22rem] max-[1180px]:top-14",
          (look || close) && "rounded-[3px] bg-paper/90 px-2 pt-1 pb-2",
        )}
      >
        <h1 className="font-title text-[23px] leading-tight font-semibold">
          {wearer?.name ?? TEXT.noWearerYet}
          {motion
            ? ", moving"
            : draping
              ? `, ${drapedThrough ? TEXT.through(drapedThrough) : fitting.chosen?.label.toLowerCase()}`
              : pose
                ? `, ${pose.label.toLowerCase()}`
                : TEXT.atRest}
        </h1>
        {motion || draping ? (
          <p className="text-soft">{motion ? TEXT.aMotionIsNot : TEXT.fallingClothIsMeasured}</p>
        ) : (
          <Verdict fitting={fitting} />
        )}
        {look && (
          <Button className="pointer-events-auto mt-1 px-2!" onClick={() => set({ look: null })}>
            {TEXT.stepBack}
          </Button>
        )}
        {!bound && <p className="text-soft">{TEXT.shownAtRestA}</p>}
      </div>
      <div className="absolute top-3 right-4 flex items-center gap-2">
        {PANELS.filter(([id]) => id !== "measures" || !fitting.own).map(([id, label, hint, Icon]) => (
          <Hint key={id} text={hint}>
            <Button
              aria-label={label}
              aria-pressed={panel === id}
              className={clsx("px-2! min-[1440px]:px-3!", panel === id && "border-heron")}
              onClick={() => set({ panel: panel === id ? null : id, tape: null })}
            >
              <Icon size={14} /> <span className="hidden min-[1440px]:inline">{label}</span>
            </Button>
          </Hint>
        ))}
        <div className="flex overflow-hidden rounded-[3px] border border-rule bg-card">
          {MAPS.map(([id, label, hint]) => (
            <Hint key={id} text={hint}>
              <button
                type="button"
                aria-pressed={shown === id}
                onClick={() => set({ map: id })}
                className={clsx(
                  "cursor-pointer border-r border-rule px-2.5 py-1.5 leading-none last:border-0",
                  shown === id ? "bg-ink text-paper" : "text-soft hover:text-ink",
                )}
              >
                {label}
              </button>
            </Hint>
          ))}
        </div>
      </div>
      {shown === "clearance" && <Legend measuring={cell.isFetching} />}
      {draping && fallen === "strain" && <StrainLegend />}
      {draping && fallen === "contact" && shown !== "clearance" && <Legend measuring={false} />}
      {shown === "weights" && <WeightsLegend joint={weights.joint} />}
      {step === "place" && glance === null && (
        <p className="pointer-events-none absolute right-4 bottom-[70px] max-w-48 text-right text-soft">
          {TEXT.beadAndConesMove}
        </p>
      )}
      <Turntable />
    </>
  );
}

/** What the cell on the stage measures, and what of the rail it does not speak of yet. */
export function Verdict({ fitting }: { fitting: Fitting }) {
  const { cell, measured, worn } = fitting;
  if (fitting.figure.isError) return <p className="text-amber">{TEXT.theBodyCannotBe(fitting.figure.error.message)}</p>;
  if (!worn.length)
    return <p className="text-soft">{fitting.loading ? TEXT.fetchingThePieces : TEXT.nothingWornYet}</p>;
  if (cell.isError) return <p className="text-amber">{cell.error.message}</p>;
  if (!measured) return <p className="text-soft">{cell.isFetching ? TEXT.measuring : TEXT.notMeasuredWhileIt}</p>;
  const f = measured.figures;
  const worst = worstPair(f);
  const hole = f.holes_cm2 > 0.1 && (
    <span className="font-semibold text-coral">{TEXT.aHoleOfCm(f.holes_cm2.toFixed(1))}</span>
  );
  if (f.places === 0 && hole) return <p>{hole}</p>;
  const coming = fitting.rail.filter((p) => !fitting.names.has(p.id)).map((p) => p.name);
  const unmeasured = coming.length > 0 && <span className="text-soft">{TEXT.notMeasured(coming.join(", "))}</span>;
  if (f.places === 0)
    return (
      <p className="text-moss">
        {worst ? TEXT.holdsLeastClearance(clearanceNamed(worst)) : TEXT.holdsNoTwoLayers}
        {unmeasured}
      </p>
    );
  return (
    <p>
      <span className="font-semibold text-coral">
        {TEXT.through2(f.places, f.places === 1 ? TEXT.placeShows : TEXT.placesShow)}
      </span>
      <span className="text-soft">
        {" "}
        {TEXT.deepest} {worst && `${depthOf(worst).toFixed(1)} mm, ${pairNamed(worst)}`} · {f.area_cm2.toFixed(2)}{" "}
        {TEXT.cm}
        {f.in_shots_cm2 != null && TEXT.inTheShots(f.in_shots_cm2.toFixed(2))}
        {hole && " · "}
        {hole}
        {unmeasured}
      </span>
    </p>
  );
}

/** Whether the figure fills the stage, so that words stand before it and not beside it. */
const isClose = ({ zoom }: { zoom: number }) => zoom > 1.25;

const LEGEND = "pointer-events-none absolute bottom-[70px] left-4 w-62 rounded-[3px] bg-paper/85 p-1.5";

function Legend({ measuring }: { measuring: boolean }) {
  return (
    <div className={LEGEND}>
      <div
        className="relative h-2.5 rounded-[1px]"
        style={{
          background:
            "linear-gradient(90deg, var(--map-through), var(--map-through-pale) 30%, var(--map-pale) 50%, var(--map-clear-pale) 68%, var(--map-clear))",
        }}
      >
        <span className="absolute -top-1 left-1/2 h-[18px] w-[2px] bg-ink" />
      </div>
      <div className="mt-1 flex justify-between text-[11.5px] text-soft">
        <span>{TEXT.n24MmUnder}</span>
        <span>0</span>
        <span>{TEXT.n24MmOverWhat}</span>
      </div>
      <p className="text-[11.5px] text-soft">{TEXT.linesEvery2Mm(measuring ? TEXT.measuring2 : "")}</p>
    </div>
  );
}

function StrainLegend() {
  return (
    <div className={LEGEND}>
      <div
        className="h-2.5 rounded-[1px]"
        style={{ background: "linear-gradient(90deg, var(--map-taut), var(--map-pale), var(--map-loose))" }}
      />
      <div className="mt-1 flex justify-between text-[11.5px] text-soft">
        <span>{TEXT.n10DrawnIn}</span>
        <span>0</span>
        <span>{TEXT.n10Stretched}</span>
      </div>
      <p className="text-[11.5px] text-soft">{TEXT.linesEvery2}</p>
    </div>
  );
}

function WeightsLegend({ joint }: { joint: string }) {
  return (
    <div className={LEGEND}>
      <div
        className="h-2.5 rounded-[1px]"
        style={{ background: "linear-gradient(90deg, var(--map-pale), var(--map-ink))" }}
      />
      <div className="mt-1 flex justify-between text-[11.5px] text-soft">
        <span>0 %</span>
        <span>{joint || TEXT.chooseAJointIn}</span>
        <span>100 %</span>
      </div>
      <p className="text-[11.5px] text-soft">{TEXT.linesEvery20}</p>
    </div>
  );
}

function Turntable() {
  const { yaw, set } = useRoomOf("yaw", "set");
  const close = useRoom(isClose);
  const turn = (((yaw + Math.PI) % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
  const view = (to: number) => set({ yaw: to, pitch: 0.04 });
  return (
    <div
      className={clsx(
        "absolute bottom-2 left-1/2 w-[min(446px,72%)] -translate-x-1/2 rounded-[3px] px-2 py-1",
        close && "bg-paper/85",
      )}
    >
      <input
        type="range"
        aria-label={TEXT.turnTheFigure}
        min={0}
        max={2 * Math.PI}
        step={Math.PI / 180}
        value={turn}
        onChange={(e) => set({ yaw: Number(e.target.value) - Math.PI })}
        className="turntable w-full"
      />
      <div className="flex justify-between text-[11.5px] text-soft">
        {(
          [
            ["back", Math.PI],
            ["right", -Math.PI / 2],
            ["front", 0],
            ["left", Math.PI / 2],
            ["back", Math.PI],
          ] as const
        ).map(([name, to], i) => (
          <button
            key={`${name}${i === 0 ? "-from" : ""}`}
            type="button"
            className="cursor-pointer hover:text-ink"
            onClick={() => view(to)}
          >
            {name}
          </button>
        ))}
      </div>
    </div>
  );
}
