import { useState } from "react";
import type { Wearer } from "../../api/client";
import { useGrow, useGrowable } from "../../api/work";
import { useKept } from "../../store/kept";
import { useRoomOf } from "../../store/room";
import { Check } from "../../ui/Check";
import { Button, Slider } from "../../ui/controls";
import { TEXT } from "./texts";

const DEFAULTS: Record<string, { ease: number; sole: number; even: number }> = {
  gloves: { ease: 2, sole: 0, even: 0.1 },
  socks: { ease: 2, sole: 0, even: 0.5 },
  boots: { ease: 5, sole: 18, even: 0.8 },
  hood: { ease: 8, sole: 0, even: 0.8 },
};

const USUAL = { ease: 4, sole: 0, even: 0.3 };

/** A new piece grown from the wearer's skin. */
export function GrowPanel({ wearer, onDone }: { wearer: Wearer; onDone(): void }) {
  const { set, say } = useRoomOf("set", "say");
  const growable = useGrowable();
  const grow = useGrow();
  const [what, setWhat] = useKept("grow what", "gloves");
  const [regions, setRegions] = useState<string[] | null>(null);
  const [settings, setSettings] = useKept("grow settings", DEFAULTS.gloves ?? USUAL);
  const ready = Object.keys(growable.data ?? {}).filter((k) => k !== "regions");
  const chosen = regions ?? growable.data?.[what] ?? [];
  const choose = (name: string) => {
    setWhat(name);
    setRegions(null);
    setSettings(DEFAULTS[name] ?? USUAL);
  };
  const make = () =>
    grow.mutate(
      {
        wearer: wearer.id,
        name: what.charAt(0).toUpperCase() + what.slice(1),
        regions: chosen,
        ease: settings.ease / 1000,
        hem: 0.012,
        sole: settings.sole / 1000,
        even: settings.even,
      },
      {
        onSuccess: (piece) => {
          say({ kind: "done", text: TEXT.grownFromSSkin(piece.name, wearer.name) });
          set({ piece: piece.id, step: null });
          onDone();
        },
      },
    );
  return (
    <section aria-label={TEXT.growAPiece} className="mt-2 rounded-[3px] border border-rule bg-paper/40 px-3 py-2.5">
      <p className="mb-1.5 text-soft">{TEXT.aNewPieceOver(wearer.name)}</p>
      <div className="mb-1.5 flex flex-wrap gap-1">
        {ready.map((name) => (
          <Button
            key={name}
            aria-pressed={what === name}
            className={what === name ? "border-heron px-2 py-1" : "px-2 py-1"}
            onClick={() => choose(name)}
          >
            {name}
          </Button>
        ))}
      </div>
      <details>
        <summary className="cursor-pointer text-soft">{TEXT.regionsOfTheBody(chosen.length)}</summary>
        <div className="grid max-h-36 grid-cols-2 overflow-y-auto">
          {growable.data?.regions?.map((name) => (
            <Check
              key={name}
              checked={chosen.includes(name)}
              onChange={(on) => setRegions(on ? [...chosen, name] : chosen.filter((r) => r !== name))}
            >
              {name.replaceAll("_", " ")}
            </Check>
          ))}
        </div>
      </details>
      <Slider
        label={TEXT.ease}
        min={1}
        max={30}
        step={0.5}
        value={settings.ease}
        shown={`${settings.ease.toFixed(1)} mm`}
        onChange={(ease) => setSettings({ ...settings, ease })}
      />
      <Slider
        label={TEXT.bridgesHollows}
        min={0}
        max={1}
        step={0.05}
        value={settings.even}
        shown={`${Math.round(settings.even * 100)} %`}
        onChange={(even) => setSettings({ ...settings, even })}
      />
      {chosen.includes("sole") && (
        <Slider
          label={TEXT.sole}
          min={0}
          max={40}
          step={1}
          value={settings.sole}
          shown={settings.sole ? `${settings.sole} mm` : "none"}
          onChange={(sole) => setSettings({ ...settings, sole })}
        />
      )}
      <div className="mt-1.5 flex gap-2">
        <Button look="primary" disabled={!chosen.length || grow.isPending} onClick={make}>
          {grow.isPending ? TEXT.growing : TEXT.grow(what)}
        </Button>
        <Button look="quiet" onClick={onDone}>
          {TEXT.notNow}
        </Button>
      </div>
    </section>
  );
}
