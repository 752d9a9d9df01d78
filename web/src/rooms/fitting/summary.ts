import type { Piece } from "../../api/client";
import { type BenchStep, stepOf, workOf } from "./recipe";

/** What a done step states in figures, in a few words. */
export function summary(kind: BenchStep, piece: Piece): string {
  const { receive, fit, bind, follow, clear, drape } = piece.report;
  switch (kind) {
    case "receive":
      return receive ? `${receive.unit} → m, ${receive.up.toUpperCase()} up` : "";
    case "place": {
      const place = stepOf(piece.recipe, "place");
      const by = Math.hypot(...(place?.move ?? [0, 0, 0])) * 100;
      const size = place?.scale ?? 1;
      return by > 0.05 || size !== 1 ? `${by.toFixed(1)} cm, × ${size.toFixed(2)}` : "as it came";
    }
    case "fit":
      if (!fit) return "";
      return fit.resting_mean === null || fit.resting_spread === null
        ? `ease ${(fit.ease * 1000).toFixed(0)} mm`
        : `ease ${(fit.resting_mean * 1000).toFixed(1)} ± ${(fit.resting_spread * 1000).toFixed(1)} mm`;
    case "work": {
      const n = workOf(piece.recipe).length;
      return n ? `${n} ${n === 1 ? "alteration" : "alterations"}` : "";
    }
    case "bind":
      return bind ? `${bind.joints} joints · ${bind.most} max` : "";
    case "follow":
      return follow ? `${follow.shapes} shapes` : "";
    case "clear": {
      if (!clear) return "";
      const cleared = clear.reduce((n, r) => n + r.cleared, 0);
      const of = clear.reduce((n, r) => n + r.of, 0);
      return `${cleared} of ${of} cells cleared`;
    }
    case "finish":
      return piece.report.finish ? `${piece.report.finish.triangles.toLocaleString("en")} faces` : "";
    case "drape":
      return drape ? `${drape.at(-1)?.fabric}, ${drape.length} kept` : "";
  }
}
