import { Pause, Play, Shirt, StepForward } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Production } from "../../api/client";
import { useFabrics } from "../../api/drape";
import type { Laid } from "../../api/table";
import { useKept } from "../../store/kept";
import { Check } from "../../ui/Check";
import { Button, Hint, Slider } from "../../ui/controls";
import { Choice } from "../../ui/Select";
import { TEXT } from "./texts";
import type { Sewing } from "./useSewing";

interface Props {
  laid: Laid;
  production: Production;
  sewing: Sewing;
  wearer: number;
  onWearer(wearer: number): void;
}

/** Sew the panels on a wearer, and hang the garment on the rail. */
export function SewPanel({ laid, production, sewing, wearer, onWearer }: Props) {
  const fabrics = useFabrics();
  const [fabric, setFabric] = useKept(`sew ${laid.id} fabric`, "linen");
  const [size, setSize] = useKept(`sew ${laid.id} size`, 20);
  const [again, setAgain] = useKept("sew again", true);
  const [over, setOver] = useKept(`sew ${laid.id} over`, false);
  const { told, playing, begin } = sewing;
  const of = fabrics.data?.find((f) => f.name === fabric) ?? null;
  const sewn = useRef(false);
  const start = (on: boolean) => {
    sewn.current ||= on;
    begin(wearer, of, size / 1000, over, on);
  };
  const closed = told && told.frames > 30;
  // the panels lie about the wearer from the start, and what has been sewn is sewn anew when a panel changes
  const go = useRef(() => {});
  go.current = () => laid.layout.panels.length && start(again && sewn.current);
  // biome-ignore lint/correctness/useExhaustiveDependencies: these are what it is sewn anew for
  useEffect(() => {
    const wait = window.setTimeout(() => go.current(), 250);
    return () => window.clearTimeout(wait);
  }, [laid.edit, wearer, over]);
  const own = production.cast.filter((w) => !w.body);
  return (
    <section aria-label={TEXT.sewing} className="border-t border-rule bg-card px-3 py-2">
      <div className="grid grid-cols-2 gap-x-3">
        <Choice word={TEXT.on} value={wearer} onChoose={(v) => onWearer(Number(v))}>
          {own.map((w) => (
            <option key={w.id} value={w.id}>
              {w.name}
            </option>
          ))}
        </Choice>
        <Choice word={TEXT.in} label={TEXT.fabric} value={fabric} onChoose={(v) => setFabric(v)}>
          {fabrics.data?.map((f) => (
            <option key={f.name}>{f.name}</option>
          ))}
        </Choice>
      </div>
      <div className="mt-1 flex items-center gap-2">
        {playing ? (
          <Button look="primary" onClick={sewing.stop}>
            <Pause size={13} /> {TEXT.stop}
          </Button>
        ) : (
          <Button look="primary" disabled={!laid.layout.panels.length} onClick={() => start(true)}>
            <Play size={13} /> {TEXT.sew}
          </Button>
        )}
        {told && !playing && told.frames > 0 && told.frames < told.of && (
          <Button onClick={sewing.goOn}>
            <StepForward size={13} /> {TEXT.goOn}
          </Button>
        )}
        {told?.hangs ? (
          <>
            <Hint text={TEXT.onTheRailIs(told.hangs)}>
              <Button disabled={!closed || playing} onClick={() => sewing.keep(true)}>
                <Shirt size={13} /> {TEXT.hangItAnew}
              </Button>
            </Hint>
            <Button look="quiet" className="px-1" disabled={!closed || playing} onClick={() => sewing.keep(false)}>
              {TEXT.asAnother}
            </Button>
          </>
        ) : (
          <Button disabled={!closed || playing} onClick={() => sewing.keep(false)}>
            <Shirt size={13} /> {TEXT.hangItOnThe}
          </Button>
        )}
      </div>
      <Slider label={TEXT.faces} min={10} max={40} step={1} value={size} shown={`${size} mm`} onChange={setSize} />
      <Check checked={over} onChange={(on) => setOver(on)}>
        {TEXT.overWhatHangsOn}
      </Check>
      <Check checked={again} onChange={(on) => setAgain(on)}>
        {TEXT.sewAnewWhenA}
      </Check>
      <p className="mt-0.5 min-h-8 text-[12px] text-soft" aria-live="off">
        {told && told.frames > 0
          ? TEXT.frameOfVerticesWidest(
              told.frames,
              told.of,
              told.vertices,
              (1000 * told.seam_open).toFixed(1),
              (100 * told.strain_mean).toFixed(1),
              (100 * told.strain_99).toFixed(0),
            )
          : told
            ? TEXT.verticesLaidRoundThe(told.vertices)
            : TEXT.thePanelsAreBeing}
      </p>
    </section>
  );
}
