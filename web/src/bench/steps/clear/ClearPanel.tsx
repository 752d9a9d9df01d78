import { useState } from "react";
import { type CellAsked, cellAsked } from "../../../api/client";
import { useSheet } from "../../../api/hooks";
import { pairsOver } from "../../../recipe/pairs";
import { type StepOf, stepOf } from "../../../recipe/recipe";
import { stanceOf } from "../../../recipe/sheetCells";
import { useRoomOf } from "../../../store/room";
import { Button, Slider } from "../../../ui/controls";
import { Choice } from "../../../ui/Select";
import { HandBrush } from "../../HandBrush";
import type { StepProps } from "../../step";
import { ClearedCells } from "./ClearedCells";
import { around, bare } from "./clearSteps";
import { HidePanel } from "./HidePanel";
import { OutfitHere } from "./OutfitHere";
import { ShownPlaces } from "./ShownPlaces";
import { WhyPanel } from "./WhyPanel";

export type ClearProps = Pick<StepProps, "production" | "piece" | "fitting" | "onKeep">;

const DOES = { out: "Ease out", in: "Tuck in", skin: "Give way" };

export function ClearPanel({ production, piece, fitting, onKeep }: ClearProps) {
  const { set, hand } = useRoomOf("set", "hand");
  const [keep, setKeep] = useState<"rest" | "pose" | "best">("pose");
  const sheet = useSheet();
  const pairs = pairsOver(fitting.measured?.figures, fitting.names.get(piece.id) ?? piece.name);
  const places = pairs
    .flatMap((pair) => pair.places.map((place) => ({ place, under: pair.under })))
    .sort((a, b) => b.place.depth_mm - a.place.depth_mm);
  const kept = piece.recipe.steps?.filter((s): s is StepOf<"clear"> => s.kind === "clear") ?? [];
  const [loose, setLoose] = useState<"falls" | "eased">("falls");
  const [way, setWay] = useState<"out" | "in" | "skin">("out");
  const [ease, setEase] = useState(4);
  const bound = !!stepOf(piece.recipe, "bind");
  const body = piece.recipe.body ?? "";
  const alike = production.cast.filter((w) => (w.body ?? "") === body).map((w) => w.id);
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
  if (!bound)
    return <p className="text-soft">Bind the piece first; a piece that does not follow cannot be cleared in a pose.</p>;
  const clear = (asked: CellAsked[], label: string) => {
    const cells = asked.map(bare);
    const how = way === "skin" && keep === "best" ? "pose" : keep;
    onKeep({ kind: "clear", cells, ease: ease / 1000, keep: how, way, loose, ...layers }, label);
  };
  return (
    <div>
      <ShownPlaces places={places} measured={!!fitting.measured} />
      <Choice word="Moves" value={way} onChoose={(v) => setWay(v as typeof way)}>
        <option value="out">the piece, outwards</option>
        {(layers.over.length === 0 || pairs.some((p) => p.under === "Skin")) && (
          <option value="skin">the skin, which gives way</option>
        )}
        {layers.outer.length > 0 && <option value="in">the piece, in under what lies over it</option>}
      </Choice>
      <Slider
        label="Ease to"
        min={0}
        max={15}
        step={0.5}
        value={ease}
        shown={`${ease.toFixed(1)} mm`}
        onChange={setEase}
      />
      <Choice word="Keep it" className="mt-1" value={keep} onChoose={(v) => setKeep(v as typeof keep)}>
        <option value="pose">for the pose alone</option>
        <option value="rest">in the piece's shape, for good</option>
        {way !== "skin" && <option value="best">as holds best in other poses</option>}
      </Choice>
      {skirted && keep === "pose" && way === "out" && (
        <Choice word="About the legs" className="mt-1" value={loose} onChoose={(v) => setLoose(v as typeof loose)}>
          <option value="falls">cloth falls where it is stretched</option>
          <option value="eased">cloth is eased out like the rest</option>
        </Choice>
      )}
      <div className="mt-1.5 flex flex-wrap gap-2">
        <Button
          look="primary"
          disabled={!(places.length || falls) || piece.status === "waiting"}
          onClick={() =>
            clear(
              [fitting.asked],
              `${falls ? "Clear" : DOES[way]}, ${fitting.wearer?.name} ${fitting.pose?.label.toLowerCase()}`,
            )
          }
        >
          {falls ? "Clear it here" : `${DOES[way]} here`}
        </Button>
        <Button
          disabled={!failing.length || piece.status === "waiting"}
          onClick={() =>
            clear(
              failing.map((c) => cellAsked(shapeOf(c.wearer), stanceOf(production, c))),
              `${DOES[way]} in ${failing.length} cells`,
            )
          }
        >
          In all {failing.length || ""} failing cells
        </Button>
        {!sheet && (
          <Button look="quiet" onClick={() => set({ sheet: true })}>
            Measure the sheet first
          </Button>
        )}
      </div>
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
          By hand, here
          <Button
            look="quiet"
            className="ml-auto px-1"
            aria-pressed={!!hand.tool}
            onClick={() => set({ hand: { ...hand, tool: hand.tool ? null : "pull" } })}
          >
            {hand.tool ? "Put the tools down" : "Take the tools up"}
          </Button>
        </p>
        {hand.tool && <HandBrush posed />}
        {piece.report.fix.length > 0 && (
          <p className="text-[12px] text-soft">
            {piece.report.fix.length} {piece.report.fix.length === 1 ? "corrective" : "correctives"} made by hand
          </p>
        )}
      </div>
      {kept.length > 0 && last && <ClearedCells last={last} poses={production.poses} />}
    </div>
  );
}
