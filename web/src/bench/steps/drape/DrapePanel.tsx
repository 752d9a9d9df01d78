import { type Fabric, useFabrics } from "../../../api/drape";
import { useMotions } from "../../../api/posing";
import { type StepOf, stepOf } from "../../../recipe/recipe";
import { useKept } from "../../../store/kept";
import { Choice } from "../../../ui/Select";
import type { StepProps } from "../../step";
import { around, bare } from "../clear/clearSteps";
import { BakePoses } from "./BakePoses";
import { drapeStep, settingsOf } from "./drapeSettings";
import { FabricFigures } from "./FabricFigures";
import { FallButtons } from "./FallButtons";
import { FallenFrames } from "./FallenFrames";
import { FallSettings } from "./FallSettings";
import { type Along, FallsAlong, withBetween } from "./FallsAlong";
import { KeptFalls } from "./KeptFalls";
import { MadeDrapes } from "./MadeDrapes";
import { TEXT } from "./texts";

/** Let the piece fall as cloth: choose the fabric and what holds it, play, pull, keep a frame. */
export function DrapePanel({ production, piece, fitting, falling }: StepProps) {
  const fabrics = useFabrics().data ?? [];
  const motions = useMotions();
  const made = piece.recipe.steps?.filter((s): s is StepOf<"drape"> => s.kind === "drape") ?? [];
  const last = made.at(-1);
  const [fabric, setFabric] = useKept<Fabric | null>(`drape ${piece.id} fabric`, last?.fabric ?? null);
  const [settings, setSettings] = useKept(`drape ${piece.id} settings`, () => settingsOf(last));
  const [along, setAlong] = useKept<Along[]>(`drape ${piece.id} along`, []);
  const [where, setWhere] = useKept(`drape ${piece.id} where`, "pose"); // this pose, at rest, or through a motion by its name
  const house = motions.data?.filter((m) => !m.name.startsWith("stock-")) ?? [];
  const motion = house.some((m) => m.name === where) ? where : "";
  const { told, playing } = falling;
  if (!stepOf(piece.recipe, "bind")) return <p className="text-soft">{TEXT.bindThePieceFirst}</p>;
  const together = along.filter((a) => fitting.rail.some((p) => p.geometry === a.piece));
  const every = withBetween(piece, fitting.rail, together, fabrics);
  const falls = new Set(
    fitting.rail.flatMap((p) => (every.some((a) => a.piece === p.geometry) ? [p.geometry, p.finished] : [])),
  );
  const alike = production.cast.filter((w) => w.id !== fitting.wearer?.id && w.body === fitting.wearer?.body);
  const chosen = fabric ?? fabrics.find((f) => f.name === "linen") ?? null;
  const fall = {
    where,
    motion,
    cell: bare(fitting.asked),
    madeOn: piece.recipe.made_on ?? {},
    along: every,
    over: around(fitting.rail, piece).over.filter((sha) => !falls.has(sha)),
  };
  const step = chosen && drapeStep(chosen, settings, fall, production);
  const into = where === "rest" ? TEXT.forGood2 : motion || fitting.chosen?.label.toLowerCase();
  const keep = (frame: number) =>
    falling.keep(frame, TEXT.drapeIn(chosen?.name ?? "", into ?? "", motion ? TEXT.frame(frame + 1) : ""));
  const anew = <T,>(set: (to: T) => void) => {
    return (to: T) => {
      falling.leave();
      set(to);
    };
  };
  return (
    <div>
      <Choice
        word={TEXT.fabric}
        value={chosen?.name ?? ""}
        onChoose={(v) => setFabric(fabrics.find((f) => f.name === v) ?? null)}
      >
        {chosen && !fabrics.some((f) => f.name === chosen.name) && <option>{chosen.name}</option>}
        {fabrics.map((f) => (
          <option key={f.name}>{f.name}</option>
        ))}
      </Choice>
      {chosen && <FabricFigures fabric={chosen} known={fabrics} onChange={setFabric} />}
      <Choice word={TEXT.falls} className="mt-1.5" value={where} onChoose={(v) => anew(setWhere)(v)}>
        <option value="pose">{TEXT.intoThisPose(fitting.chosen?.label.toLowerCase() ?? "")}</option>
        <option value="rest">{TEXT.atRestForGood}</option>
        {house.map((m) => (
          <option key={m.name} value={m.name}>
            {TEXT.throughS(m.label.toLowerCase(), m.seconds.toFixed(1))}
          </option>
        ))}
      </Choice>
      <FallsAlong piece={piece} rail={fitting.rail} fabrics={fabrics} along={together} onChange={anew(setAlong)} />
      <FallButtons
        falling={falling}
        ready={!!step && piece.status !== "waiting"}
        onPlay={() => step && falling.play(step)}
      />
      {playing && !told && <p className="mt-1 text-soft">{TEXT.layingOutTheCloth}</p>}
      {told && <FallenFrames falling={falling} told={told} label={`${chosen?.name}, ${into}`} onKeep={keep} />}
      <FallSettings
        settings={settings}
        wearer={fitting.wearer}
        alike={motion ? [] : alike}
        onChange={(to) => setSettings({ ...settings, ...to })}
      />
      <KeptFalls piece={piece.id} onSee={falling.see} />
      <BakePoses piece={piece} production={production} step={step} ms={told?.ms ?? null} />
      <MadeDrapes made={made} piece={piece} production={production} />
    </div>
  );
}
