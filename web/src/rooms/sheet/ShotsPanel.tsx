import clsx from "clsx";
import { Camera as CameraIcon, Download, Eye, Trash2, Upload } from "lucide-react";
import { useState } from "react";
import { inProduction, type Production } from "../../api/client";
import { type Shot, useShots } from "../../api/shots";
import type { Fitting } from "../../bench/useFitting";
import { item } from "../../recipe/at";
import { columnsOf } from "../../recipe/sheetCells";
import { MIDDLE } from "../../stage/Camera";
import { shotFrom } from "../../stage/shotView";
import { useRoom, useRoomOf } from "../../store/room";
import { Button, Hint, NumberField } from "../../ui/controls";
import { FileButton } from "../../ui/FileButton";
import { Choice } from "../../ui/Select";
import { PanelTool, StagePanel } from "../../ui/StagePanel";
import { TEXT } from "./texts";

const FRAMES: [string, number][] = [
  ["4 : 3", 4 / 3],
  ["16 : 9", 16 / 9],
  ["1.85 : 1", 1.85],
  ["2.39 : 1", 2.39],
];
type Cells = "all" | "wearer" | "pose" | "cell";

/** The production's shots: taken from the stage or brought in as cameras; what each sees of what shows here. */
export function ShotsPanel({ production, fitting }: { production: Production; fitting: Fitting }) {
  const { shot: through, set } = useRoomOf("shot", "set");
  const { add, change, drop, back, bringIn } = useShots();
  const [dropped, setDropped] = useState<Shot | null>(null);
  const { shots } = production;
  const figures = fitting.cell.data?.figures;
  const inHand = shots.find((s) => s.id === through);
  const take = () => {
    const names = new Set(shots.map((s) => s.shot.name));
    let n = shots.length + 1;
    while (names.has(`Shot ${n}`)) n += 1;
    const { yaw, pitch, zoom, target } = useRoom.getState();
    const view = { yaw, pitch: Math.max(-0.4, Math.min(1.2, pitch)), zoom, target };
    add.mutate(
      { shot: shotFrom(view, MIDDLE, TEXT.shot(n)) },
      { onSuccess: (all) => set({ shot: all?.at(-1)?.id ?? null }) },
    );
  };
  return (
    <StagePanel
      title={TEXT.shots}
      label={TEXT.shots}
      onClose={() => set({ panel: null, shot: null })}
      tools={
        <>
          <FileButton
            label={TEXT.bringInCameras}
            accept=".glb,.gltf,.bin"
            className="px-1"
            onFiles={(files) => bringIn.mutate(files)}
          >
            <Hint text={TEXT.bringInTheCameras}>
              <Upload size={14} aria-label={TEXT.bringInCameras} />
            </Hint>
          </FileButton>
          {shots.length > 0 && (
            <PanelTool
              name={TEXT.takeTheShotsAway}
              hint={TEXT.takeTheShotsAwayAs}
              onClick={() => window.location.assign(inProduction("/api/shots/cameras.glb"))}
            >
              <Download size={14} />
            </PanelTool>
          )}
        </>
      }
    >
      <p className="text-[12px] text-soft">{shots.length ? TEXT.faultsAreMeasuredFrom : TEXT.aShotIsA}</p>
      <ul aria-label={TEXT.shotsOfTheProduction} className="mt-1.5">
        {shots.map((s) => {
          const seen = figures?.shots?.find((x) => x.name === s.shot.name);
          return (
            <li key={s.id} className="flex items-center gap-1 border-b border-dashed border-rule last:border-0">
              <button
                type="button"
                aria-pressed={s.id === through}
                onClick={() => set({ shot: s.id === through ? null : s.id })}
                className={clsx(
                  "flex min-w-0 flex-1 cursor-pointer items-center gap-1.5 py-1 text-left",
                  s.id === through ? "text-heron" : "hover:text-heron",
                )}
              >
                <Eye size={13} aria-hidden className="shrink-0" />
                <span className="min-w-0 flex-1 truncate">{s.shot.name}</span>
                {figures && (
                  <span
                    className={clsx("shrink-0 text-[12px]", seen && seen.area_cm2 > 0.1 ? "text-coral" : "text-soft")}
                  >
                    {seen ? `${seen.area_cm2.toFixed(2)} cm²` : TEXT.notHere}
                  </span>
                )}
              </button>
              <Hint text={TEXT.drop(s.shot.name)}>
                <Button
                  look="quiet"
                  className="px-1"
                  aria-label={TEXT.drop(s.shot.name)}
                  onClick={() => {
                    drop.mutate(s.id);
                    setDropped(s);
                    if (through === s.id) set({ shot: null });
                  }}
                >
                  <Trash2 size={13} />
                </Button>
              </Hint>
            </li>
          );
        })}
      </ul>
      {dropped && !shots.some((s) => s.id === dropped.id) && (
        <p className="flex items-baseline text-[12.5px] text-soft" aria-live="polite">
          {dropped.shot.name} {TEXT.dropped}
          <Button look="quiet" className="ml-auto px-1" onClick={() => back.mutate(dropped.id)}>
            {TEXT.takeItBack}
          </Button>
        </p>
      )}
      {inHand && (
        <ShotFields
          key={inHand.id}
          shot={inHand}
          production={production}
          fitting={fitting}
          onChange={(to) =>
            change.mutate({ id: inHand.id, shot: inHand.shot, wearer: inHand.wearer, pose: inHand.pose, ...to })
          }
        />
      )}
      <Button
        className="mt-2.5 w-full"
        look={shots.length ? "plain" : "primary"}
        disabled={add.isPending}
        onClick={take}
      >
        <CameraIcon size={14} /> {TEXT.takeThisViewAs}
      </Button>
    </StagePanel>
  );
}

interface FieldsProps {
  shot: Shot;
  production: Production;
  fitting: Fitting;
  onChange(to: { shot?: Shot["shot"]; wearer?: number | null; pose?: string | null }): void;
}

/** The shot in hand: its name, its picture, and the cells it shows. */
function ShotFields({ shot, production, fitting, onChange }: FieldsProps) {
  const [name, setName] = useState(shot.shot.name);
  const camera = shot.shot;
  const { eye, target } = camera;
  const away = Math.hypot(...eye.map((x, k) => x - item(target, k)));
  const lens = (camera.lens * 180) / Math.PI;
  const frame = FRAMES.find(([, f]) => Math.abs(f - (camera.frame ?? 0)) < 0.01);
  const keep = (to: Partial<typeof camera>) => onChange({ shot: { ...camera, ...to } });
  const cells: Cells =
    shot.wearer !== null && shot.pose ? "cell" : shot.wearer !== null ? "wearer" : shot.pose ? "pose" : "all";
  const who = production.cast.find((w) => w.id === (shot.wearer ?? fitting.wearer?.id));
  const column = columnsOf(production).find((p) => p.name === (shot.pose ?? fitting.chosen?.name));
  const rename = () =>
    name.trim() && name.trim() !== camera.name ? keep({ name: name.trim() }) : setName(camera.name);
  const aim = (height: number) => {
    const by = height - target[1];
    keep({ target: [target[0], height, target[2]], eye: [eye[0], eye[1] + by, eye[2]] });
  };
  const near = (metres: number) => {
    const share = Math.max(0.2, metres) / away;
    keep({ eye: eye.map((x, k) => item(target, k) + share * (x - item(target, k))) as typeof eye });
  };
  return (
    <section
      aria-label={TEXT.theShot(camera.name)}
      className="mt-2 flex flex-col gap-1.5 border-t border-dashed border-rule pt-2"
    >
      <input
        aria-label={TEXT.nameOfTheShot}
        className="rounded-[3px] border border-rule bg-card px-1.5 py-1"
        value={name}
        maxLength={60}
        onChange={(e) => setName(e.target.value)}
        onBlur={rename}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") rename();
        }}
      />
      <div className="flex gap-2">
        <NumberField label={TEXT.away} unit="m" digits={2} step={0.1} value={away} onCommit={near} />
        <NumberField
          label={TEXT.aimsAt}
          unit="cm"
          digits={0}
          step={2}
          value={100 * target[1]}
          onCommit={(v) => aim(v / 100)}
        />
        <NumberField
          label={TEXT.lens}
          unit="°"
          digits={0}
          value={lens}
          onCommit={(v) => keep({ lens: (Math.max(2, Math.min(150, v)) * Math.PI) / 180 })}
        />
      </div>
      <Choice
        word={TEXT.frame}
        value={frame?.[0] ?? ""}
        onChoose={(v) => keep({ frame: FRAMES.find(([n]) => n === v)?.[1] })}
      >
        {!frame && <option value="">{(camera.frame ?? 0).toFixed(2)} : 1</option>}
        {FRAMES.map(([n]) => (
          <option key={n}>{n}</option>
        ))}
      </Choice>
      <Choice
        word={TEXT.shows}
        value={cells}
        onChoose={(v) => {
          const to = v as Cells;
          onChange({
            wearer: to === "wearer" || to === "cell" ? (who?.id ?? null) : null,
            pose: to === "pose" || to === "cell" ? (column?.name ?? null) : null,
          });
        }}
      >
        <option value="all">{TEXT.everyCell}</option>
        {who && <option value="wearer">{TEXT.inEveryPose(who.name)}</option>}
        {column && <option value="pose">{TEXT.everyWearer(column.label.toLowerCase())}</option>}
        {who && column && (
          <option value="cell">
            {who.name}, {column.label.toLowerCase()}
          </option>
        )}
      </Choice>
    </section>
  );
}
