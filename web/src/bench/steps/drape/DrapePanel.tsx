import { Pause, Play, RotateCw, StepForward } from "lucide-react";
import { useState } from "react";
import { type DrapeStep, type Fabric, useFabrics } from "../../../api/drape";
import { useMotions } from "../../../api/posing";
import { item } from "../../../recipe/at";
import { type StepOf, stepOf } from "../../../recipe/recipe";
import { Button, Choice, Slider } from "../../../ui/controls";
import type { StepProps } from "../../step";
import { Check } from "../bind/WeightsTab";
import { around, bare } from "../clear/clearSteps";
import { BakePoses } from "./BakePoses";
import { FabricFigures } from "./FabricFigures";
import { FallenFrames } from "./FallenFrames";
import { type Along, FallsAlong, withBetween } from "./FallsAlong";
import { HoldCloth, type Holding } from "./HoldCloth";
import { KeptFalls } from "./KeptFalls";

const FROM: [string, [number, number, number]][] = [
  ["the front", [0, 0, -1]],
  ["behind", [0, 0, 1]],
  ["the left", [-1, 0, 0]],
  ["the right", [1, 0, 0]],
  ["below", [0, 1, 0]],
];

/** Let the piece fall as cloth: choose the fabric and what holds it, play, pull, keep a frame. */
export function DrapePanel({ production, piece, fitting, falling }: StepProps) {
  const fabrics = useFabrics();
  const made = piece.recipe.steps?.filter((s): s is StepOf<"drape"> => s.kind === "drape") ?? [];
  const last = made.at(-1);
  const [fabric, setFabric] = useState<Fabric | null>(last?.fabric ?? null);
  const [held, setHeld] = useState((last?.held ?? 0.04) * 100);
  const [holding, setHolding] = useState<Holding>({
    tacks: last?.tacks ?? [],
    gathers: last?.gathers ?? [],
    straps: last?.straps ?? [],
    stiff: last?.stiff ?? [],
  });
  const [along, setAlong] = useState<Along[]>([]);
  const [pressure, setPressure] = useState(last?.pressure ?? 0);
  const [cut, setCut] = useState(0); // the wearer it is cut to, by number; 0 for this one
  const [wind, setWind] = useState(0);
  const [from, setFrom] = useState(0);
  const [gust, setGust] = useState(0.3);
  const [substeps, setSubsteps] = useState(last?.substeps ?? 20);
  const [finer, setFiner] = useState(last?.finer ?? true);
  const [past, setPast] = useState(last?.past_hidden ?? false);
  const [where, setWhere] = useState("pose"); // this pose, at rest, or through a motion by its name
  const motions = useMotions();
  const house = motions.data?.filter((m) => !m.name.startsWith("stock-")) ?? [];
  const motion = house.some((m) => m.name === where) ? where : "";
  const { told, playing } = falling;
  if (!stepOf(piece.recipe, "bind"))
    return <p className="text-soft">Bind the piece first: what holds the cloth must know how to follow the wearer.</p>;
  const together = along.filter((a) => fitting.rail.some((p) => p.geometry === a.piece));
  const every = withBetween(piece, fitting.rail, together, fabrics.data ?? []);
  const falls = new Set(
    fitting.rail.flatMap((p) => (every.some((a) => a.piece === p.geometry) ? [p.geometry, p.finished] : [])),
  );
  const alike = production.cast.filter((w) => w.id !== fitting.wearer?.id && w.body === fitting.wearer?.body);
  const chosen = fabric ?? fabrics.data?.find((f) => f.name === "linen") ?? null;
  const step = (of: Fabric): DrapeStep => {
    const cell = bare(fitting.asked);
    return {
      kind: "drape",
      cell:
        where === "rest"
          ? { shape: piece.recipe.made_on ?? {}, pose: "rest" }
          : motion
            ? { ...cell, pose: "rest" }
            : cell,
      motion,
      fabric: of,
      settle: 24,
      move: 24,
      hang: 24,
      substeps,
      finer,
      held: held / 100,
      ...holding,
      pressure,
      start: production.cast.find((w) => w.id === cut)?.shape ?? null,
      along: every,
      pulls: [],
      wind: item(FROM, from)[1].map((x) => x * wind) as [number, number, number],
      gust: wind ? gust : 0,
      past_hidden: past,
      over: around(fitting.rail, piece).over.filter((sha) => !falls.has(sha)),
      keep: where === "rest" ? "rest" : "pose",
    };
  };
  const into = where === "rest" ? "for good" : motion || fitting.chosen?.label.toLowerCase();
  const keep = (frame: number) =>
    falling.keep(frame, `Drape in ${chosen?.name}, ${into}${motion ? `, frame ${frame + 1}` : ""}`);
  return (
    <div>
      <Choice
        label="Fabric"
        value={chosen?.name ?? ""}
        onChange={(e) => setFabric(fabrics.data?.find((f) => f.name === e.target.value) ?? null)}
      >
        {chosen && !fabrics.data?.some((f) => f.name === chosen.name) && <option>{chosen.name}</option>}
        {fabrics.data?.map((f) => (
          <option key={f.name}>{f.name}</option>
        ))}
      </Choice>
      {chosen && <FabricFigures fabric={chosen} known={fabrics.data ?? []} onChange={setFabric} />}
      <Choice
        label="Falls"
        className="mt-1.5"
        value={where}
        onChange={(e) => {
          falling.leave();
          setWhere(e.target.value);
        }}
      >
        <option value="pose">into this pose ({fitting.chosen?.label.toLowerCase()})</option>
        <option value="rest">at rest, for good</option>
        {house.map((m) => (
          <option key={m.name} value={m.name}>
            through {m.label.toLowerCase()} ({m.seconds.toFixed(1)} s)
          </option>
        ))}
      </Choice>
      <FallsAlong
        piece={piece}
        rail={fitting.rail}
        fabrics={fabrics.data ?? []}
        along={together}
        onChange={(to) => {
          falling.leave();
          setAlong(to);
        }}
      />
      <div className="mt-1.5 flex flex-wrap gap-2">
        {playing ? (
          <Button look="primary" onClick={falling.stop}>
            <Pause size={13} /> Stop
          </Button>
        ) : (
          <Button
            look="primary"
            disabled={!chosen || !falling.ready || piece.status === "waiting"}
            onClick={() => chosen && falling.play(step(chosen))}
          >
            <Play size={13} /> {told && !falling.fromKept ? "From the start" : "Let it fall"}
          </Button>
        )}
        {told && !playing && told.have > 1 && (
          <Button aria-pressed={falling.replaying} onClick={falling.replaying ? falling.stop : falling.replay}>
            {falling.replaying ? <Pause size={13} /> : <RotateCw size={13} />} {falling.replaying ? "Hold" : "Replay"}
          </Button>
        )}
        {told && !playing && !falling.fromKept && (
          <Button onClick={falling.goOn}>
            <StepForward size={13} /> {told.have < told.of ? "Go on" : "A frame more"}
          </Button>
        )}
        {told && (
          <Button look="quiet" onClick={falling.leave}>
            Put it back
          </Button>
        )}
      </div>
      {playing && !told && <p className="mt-1 text-soft">Laying out the cloth…</p>}
      {told && <FallenFrames falling={falling} told={told} label={`${chosen?.name}, ${into}`} onKeep={keep} />}
      <div className="mt-2 border-t border-dashed border-rule pt-1">
        <Slider
          label="Worn at the top"
          min={0}
          max={30}
          step={0.5}
          value={held}
          shown={`${held.toFixed(1)} cm`}
          onChange={setHeld}
        />
        {alike.length > 0 && !motion && (
          <Choice label="Cut to" value={cut} onChange={(e) => setCut(Number(e.target.value))}>
            <option value={0}>{fitting.wearer?.name}, who wears it</option>
            {alike.map((w) => (
              <option key={w.id} value={w.id}>
                {w.name}, and keeps that size
              </option>
            ))}
          </Choice>
        )}
        <HoldCloth holding={holding} onChange={setHolding} />
        <Slider
          label="Padding"
          min={0}
          max={20}
          step={0.5}
          value={pressure}
          shown={pressure ? `${pressure.toFixed(1)} N/m²` : "none"}
          onChange={setPressure}
        />
        <Slider
          label="Wind"
          min={0}
          max={15}
          step={0.5}
          value={wind}
          shown={wind ? `${wind.toFixed(1)} m/s` : "still"}
          onChange={setWind}
        />
        {wind > 0 && (
          <>
            <Choice label="from" value={from} onChange={(e) => setFrom(Number(e.target.value))}>
              {FROM.map(([name], i) => (
                <option key={name} value={i}>
                  {name}
                </option>
              ))}
            </Choice>
            <Slider
              label="Gusts"
              min={0}
              max={1}
              step={0.05}
              value={gust}
              shown={`± ${Math.round(gust * 100)} %`}
              onChange={setGust}
            />
          </>
        )}
        <Slider
          label="Substeps a frame"
          min={10}
          max={80}
          step={5}
          value={substeps}
          shown={`${substeps}`}
          ends={["quicker", "stiffer where it is set so"]}
          onChange={setSubsteps}
        />
        <Check checked={finer} onChange={setFiner}>
          Add substeps while the cloth is over-stretched
        </Check>
        <Check checked={past} onChange={setPast}>
          Falls past hidden skin
        </Check>
      </div>
      <KeptFalls piece={piece.id} onSee={falling.see} />
      <BakePoses piece={piece} production={production} step={chosen && step(chosen)} ms={told?.ms ?? null} />
      {made.length > 0 && (
        <ul className="mt-2 border-t border-dashed border-rule pt-1.5 text-[12px]">
          {made.map((s, i) => (
            <li key={`${s.cell?.pose}${i.toString()}`} className="flex justify-between">
              <span className="text-soft">
                {s.keep === "rest"
                  ? "For good"
                  : s.motion
                    ? `${s.motion}, frame ${s.until}`
                    : (production.poses.find((p) => p.name === s.cell?.pose)?.label ?? s.cell?.pose)}
              </span>
              <span>
                {s.fabric?.name}, {piece.report.drape?.[i]?.frames ?? s.until ?? 72} frames
              </span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
