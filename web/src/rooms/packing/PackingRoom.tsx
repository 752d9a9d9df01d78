import { PackageCheck } from "lucide-react";
import { useState } from "react";
import { type Production, problemOf } from "../../api/client";
import { useSheet } from "../../api/hooks";
import { hangsFor } from "../../recipe/outfits";
import { stepOf } from "../../recipe/recipe";
import { useRoomOf } from "../../store/room";
import { Button } from "../../ui/controls";
import { TEXT } from "./texts";

/** Packing: what goes into the pack, what was checked, and the file. */
export function PackingRoom({ production }: { production: Production }) {
  const { wearer: chosen, say } = useRoomOf("wearer", "say");
  const [wearer, setWearer] = useState(chosen ?? production.cast[0]?.id);
  const [busy, setBusy] = useState(false);
  const sheet = useSheet();
  const trial = sheet?.of_outfit === null ? sheet : null; // of what each has on: that is packed
  const holding = trial?.cells.filter((c) => c.figures?.holds).length ?? 0;
  const who = production.cast.find((w) => w.id === wearer);
  const alike = production.cast.filter((w) => (w.body ?? "") === (who?.body ?? "") && w.outfit === who?.outfit);
  const pieces = production.pieces.filter((p) => hangsFor(p, who));
  const notReady = pieces.filter((p) => p.status !== "done" || !stepOf(p.recipe, "follow"));
  const pack = async () => {
    setBusy(true);
    try {
      const answer = await fetch(`/api/packs/${wearer}.glb`);
      if (!answer.ok) throw await problemOf(answer);
      const link = document.createElement("a");
      link.href = URL.createObjectURL(await answer.blob());
      link.download = /filename="([^"]+)"/.exec(answer.headers.get("Content-Disposition") ?? "")?.[1] ?? "pack.glb";
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
      say({ kind: "done", text: TEXT.isPacked(link.download) });
    } catch (error) {
      say({ kind: "problem", text: (error as Error).message });
    } finally {
      setBusy(false);
    }
  };
  return (
    <main className="min-h-0 overflow-y-auto px-8 py-6">
      <div className="mx-auto max-w-3xl">
        <h1 className="font-title text-[24px] font-semibold">{TEXT.packingList}</h1>
        <p className="mt-1 text-soft">{TEXT.oneBinaryGltfFile}</p>
        <section className="mt-5 grid grid-cols-[150px_minmax(0,1fr)] gap-y-2 border-t border-rule pt-4">
          <span className="text-soft">{TEXT.packedOn}</span>
          <span className="flex gap-2">
            {production.cast.map((w) => (
              <Button
                key={w.id}
                aria-pressed={w.id === wearer}
                className={w.id === wearer ? "border-heron font-semibold" : ""}
                onClick={() => setWearer(w.id)}
              >
                {w.name}
              </Button>
            ))}
          </span>
          <span className="text-soft">{TEXT.pieces}</span>
          <ul>
            {pieces.map((p) => (
              <li key={p.id} className="flex items-center gap-3">
                {p.thumb && <img src={`/api/pictures/${p.thumb}.png`} alt="" width={32} height={32} />}
                <span className="font-semibold">{p.name}</span>
                <span className="text-soft">
                  {p.report.receive?.vertices} {TEXT.vertices}{" "}
                  {p.report.bind ? TEXT.joints(p.report.bind.joints) : TEXT.notBound} ·{" "}
                  {p.report.follow ? TEXT.shapes(p.report.follow.shapes) : TEXT.doesNotFollow}
                </span>
              </li>
            ))}
            {pieces.length === 0 && <li className="text-soft">{TEXT.nothingHangsOnThe}</li>}
          </ul>
          <span className="text-soft">{TEXT.clips}</span>
          <span>{TEXT.poses(alike.length, alike.length === 1 ? "wearer" : "wearers", production.poses.length)}</span>
          <span className="text-soft">{TEXT.checked}</span>
          <span>
            {!trial
              ? TEXT.theTrialSheetHas
              : TEXT.ofCellsHold(holding, trial.total, trial.stale ? TEXT.measuredBeforeTheLast : "")}
          </span>
        </section>
        <div className="mt-6 flex items-center gap-3 border-t border-rule pt-4">
          <Button
            look="primary"
            className="px-4 py-2"
            disabled={busy || notReady.length > 0 || !pieces.length}
            onClick={pack}
          >
            <PackageCheck size={15} /> {busy ? TEXT.packing : TEXT.packIt}
          </Button>
          {notReady.length > 0 && (
            <p className="text-amber">{TEXT.doBindAndFollow(notReady.map((p) => p.name).join(", "))}</p>
          )}
        </div>
      </div>
    </main>
  );
}
