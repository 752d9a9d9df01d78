import { type CellAsked, cellAsked } from "../../../api/client";
import { useSheet } from "../../../api/hooks";
import { hangsFor } from "../../../recipe/outfits";
import { pairsOver } from "../../../recipe/pairs";
import { type StepOf, stepOf } from "../../../recipe/recipe";
import { stanceOf } from "../../../recipe/sheetCells";
import { useKept } from "../../../store/kept";
import { useRoomOf } from "../../../store/room";
import { Button, Slider } from "../../../ui/controls";
import { PanelButtons } from "../../../ui/PanelButtons";
import { Choice } from "../../../ui/Select";
import { HandBrush } from "../../HandBrush";
import type { StepProps } from "../../step";
import { ClearedCells } from "./ClearedCells";
import { around, bare } from "./clearSteps";
import { HidePanel } from "./HidePanel";
import { OutfitHere } from "./OutfitHere";
import { ShownPlaces } from "./ShownPlaces";
import { TEXT } from "./texts";
import { WhyPanel } from "./WhyPanel";

export type ClearProps = Pick<StepProps, "production" | "piece" | "fitting" | "onKeep">;

const DOES = { out: TEXT.easeOut, in: TEXT.tuckIn, skin: TEXT.giveWay };

export function ClearPanel({ production, piece, fitting, onKeep }: ClearProps) {
  const { set, hand } = useRoomOf("set", "hand");
  const [keep, setKeep] = useKept<"rest" | "pose" | "best">(`clear ${piece.id} keep`, "pose");
  const sheet = useSheet();
  const pairs = pairsOver(fitting.measured?.figures, fitting.names.get(piece.id) ?? piece.name);
  const places = pairs
    .flatMap((pair) => pair.places.map((place) => ({ place, under: pair.under })))
    .sort((a, b) => b.place.depth_mm - a.place.depth_mm);
  const kept = piece.recipe.steps?.filter((s): s is StepOf<"clear"> => s.kind === "clear") ?? [];
  const [loose, setLoose] = useKept<"falls" | "eased">(`clear ${piece.id} loose`, "falls");
  const [way, setWay] = useKept<"out" | "in" | "skin">(`clear ${piece.id} way`, "out");
  const [ease, setEase] = useKept(`clear ${piece.id} ease`, 4);
  const bound = !!stepOf(piece.recipe, "bind");
  const alike = production.cast.filter((w) => hangsFor(piece, w)).map((w) => w.id);
  const failing = sheet?.cells.filter((c) => c.figures && !c.figures.holds && alike.includes(c.wearer)) ?? [];
  const shapeOf = (id: number) => production.cast.find((w) => w.id === id)?.shape ?? {};
  const last = piece.report.clear?.at(-1);
  const layers = around(fitting.rail, piece);
  const skirted = (piece.report.bind?.hangs ?? 0) > 0.2 * (piece.report.receive?.vertices ?? 0);
  const falls =
    way === "out" &&
    skirted &&
    keep === "pose" &&
    loose === "falls" &&
    !!Object.keys(fitting.pose?.rotations ?? {}).length;
  if (!bound) return <p className="text-soft">{TEXT.bindThePieceFirst}</p>;
  const clear = (asked: CellAsked[], label: string) => {
    const cells = asked.map(bare);
    const how = way === "skin" && keep === "best" ? "pose" : keep;
    onKeep({ kind: "clear", cells, ease: ease / 1000, keep: how, way, loose, ...layers }, label);
  };
  return (
    <div>
      <ShownPlaces places={places} measured={!!fitting.measured} />
      <Choice word={TEXT.moves} value={way} onChoose={(v) => setWay(v as typeof way)}>
        <option value="out">{TEXT.thePieceOutwards}</option>
        {(layers.over.length === 0 || pairs.some((p) => p.under === "Skin")) && (
          <option value="skin">{TEXT.theSkinWhichGives}</option>
        )}
        {layers.outer.length > 0 && <option value="in">{TEXT.thePieceInUnder}</option>}
      </Choice>
      <Slider
        label={TEXT.easeTo}
        min={0}
        max={15}
        step={0.5}
        value={ease}
        shown={`${ease.toFixed(1)} mm`}
        onChange={setEase}
      />
      <Choice word={TEXT.keepIt} className="mt-1" value={keep} onChoose={(v) => setKeep(v as typeof keep)}>
        <option value="pose">{TEXT.forThePoseAlone}</option>
        <option value="rest">{TEXT.inThePiecesShape}</option>
        {way !== "skin" && <option value="best">{TEXT.asHoldsBestIn}</option>}
      </Choice>
      {skirted && keep === "pose" && way === "out" && (
        <Choice word={TEXT.aboutTheLegs} className="mt-1" value={loose} onChoose={(v) => setLoose(v as typeof loose)}>
          <option value="falls">{TEXT.clothFallsWhereIt}</option>
          <option value="eased">{TEXT.clothIsEasedOut}</option>
        </Choice>
      )}
      <PanelButtons>
        <Button
          look="primary"
          disabled={!(places.length || falls) || piece.status === "waiting"}
          onClick={() =>
            clear(
              [fitting.asked],
              `${falls ? TEXT.clear : DOES[way]}, ${fitting.wearer?.name} ${fitting.pose?.label.toLowerCase()}`,
            )
          }
        >
          {falls ? TEXT.clearItHere : TEXT.here(DOES[way])}
        </Button>
        <Button
          disabled={!failing.length || piece.status === "waiting"}
          onClick={() =>
            clear(
              failing.map((c) => cellAsked(shapeOf(c.wearer), stanceOf(production, c))),
              TEXT.inCells(DOES[way], failing.length),
            )
          }
        >
          {TEXT.inAllFailingCells(failing.length || "")}
        </Button>
        {!sheet && (
          <Button look="quiet" onClick={() => set({ sheet: true })}>
            {TEXT.measureTheSheetFirst}
          </Button>
        )}
      </PanelButtons>
      {fitting.rail.length > 0 && <OutfitHere production={production} fitting={fitting} />}
      <WhyPanel
        key={`${piece.geometry}${JSON.stringify(fitting.asked)}`} // another cell or piece is another question
        production={production}
        piece={piece}
        fitting={fitting}
        onKeep={onKeep}
        ease={ease}
      />
      <HidePanel production={production} piece={piece} fitting={fitting} onKeep={onKeep} />
      <div className="mt-2 border-t border-dashed border-rule pt-2">
        <p className="mb-1.5 flex items-center">
          {TEXT.byHandHere}
          <Button
            look="quiet"
            className="ml-auto px-1"
            aria-pressed={!!hand.tool}
            onClick={() => set({ hand: { ...hand, tool: hand.tool ? null : "pull" } })}
          >
            {hand.tool ? TEXT.putTheToolsDown : TEXT.takeTheToolsUp}
          </Button>
        </p>
        {hand.tool && <HandBrush posed />}
        {piece.report.fix.length > 0 && (
          <p className="text-[12px] text-soft">
            {TEXT.madeByHand(piece.report.fix.length, piece.report.fix.length === 1 ? "corrective" : "correctives")}
          </p>
        )}
      </div>
      {kept.length > 0 && last && <ClearedCells last={last} poses={production.poses} />}
    </div>
  );
}
