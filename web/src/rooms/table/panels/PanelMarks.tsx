import clsx from "clsx";
import type { Panel, Spot } from "../../../api/table";
import { item } from "../../../recipe/at";
import { TEXT } from "../texts";
import type { Chosen, Drag } from "../useTable";
import { along, onTable } from "./panelPath";

interface HandleProps {
  panel: Panel;
  corner: number | null;
  scale: number;
  begin(e: React.PointerEvent, what: Drag): void;
  onChoose(chosen: Chosen): void;
}

/** The corners of the chosen panel, and the two handles of each of its curves. */
export function Handles({ panel, corner, scale, begin, onChoose }: HandleProps) {
  return (
    <>
      {panel.outline.map((c, i) => {
        const [x, y] = onTable(panel, c.at as Spot);
        const next = onTable(panel, item(panel.outline, (i + 1) % panel.outline.length).at as Spot);
        const size = 9 * scale;
        return (
          <g
            // biome-ignore lint/suspicious/noArrayIndexKey: a corner is known by its place in the outline
            key={i}
          >
            {c.bend?.map((b, k) => {
              const [hx, hy] = onTable(panel, b as Spot);
              const [fx, fy] = k ? next : [x, y];
              return (
                <g key={`${k ? "end" : "start"}`}>
                  <line x1={fx} y1={fy} x2={hx} y2={hy} className="stroke-soft" strokeWidth={scale} />
                  <circle
                    cx={hx}
                    cy={hy}
                    r={5 * scale}
                    className="cursor-pointer fill-card stroke-heron"
                    strokeWidth={1.5 * scale}
                    onPointerDown={(e) => begin(e, { kind: k ? "bend1" : "bend0", panel: panel.name, at: i })}
                  />
                </g>
              );
            })}
            <rect
              x={x - size / 2}
              y={y - size / 2}
              width={size}
              height={size}
              data-corner={`${panel.name} ${i + 1}`}
              className={clsx("cursor-pointer stroke-heron", corner === i ? "fill-heron" : "fill-card")}
              strokeWidth={1.5 * scale}
              onPointerDown={(e) => {
                onChoose({ panel: panel.name, edge: null, corner: i });
                begin(e, { kind: "corner", panel: panel.name, at: i });
              }}
            />
          </g>
        );
      })}
    </>
  );
}

export function Tag({
  panel,
  edge,
  other,
  text,
  scale,
}: {
  panel: Panel;
  edge: number;
  other: boolean;
  text: string;
  scale: number;
}) {
  const [x, y] = onTable(panel, along(panel, edge, 0.5), other);
  return (
    <g className="pointer-events-none">
      <circle cx={x} cy={y} r={8 * scale} className="fill-paper stroke-heron" strokeWidth={scale} />
      <text x={x} y={y + 3.6 * scale} textAnchor="middle" fontSize={10.5 * scale} className="fill-heron font-semibold">
        {text}
      </text>
    </g>
  );
}

export function Notch({ panel, edge, share, scale }: { panel: Panel; edge: number; share: number; scale: number }) {
  const spot = along(panel, edge, share);
  return (
    <>
      {(panel.half === "fold" ? [false, true] : [false]).map((other) => {
        const [x, y] = onTable(panel, spot, other);
        return (
          <path
            key={`${other}`}
            d={`M${x - 5 * scale} ${y - 5 * scale}L${x + 5 * scale} ${y + 5 * scale}M${x - 5 * scale} ${y + 5 * scale}L${x + 5 * scale} ${y - 5 * scale}`}
            className="stroke-ink"
            strokeWidth={1.4 * scale}
          />
        );
      })}
    </>
  );
}

export function Grain({ panel, scale }: { panel: Panel; scale: number }) {
  const ys = panel.outline.map((c) => c.at[1]);
  const xs = panel.outline.map((c) => c.at[0]);
  const long = 0.25 * (Math.max(...ys) - Math.min(...ys));
  const middle: Spot = [
    panel.half === "fold" ? 0.35 * Math.max(...xs) : (Math.max(...xs) + Math.min(...xs)) / 2,
    (Math.max(...ys) + Math.min(...ys)) / 2,
  ];
  const turn = (panel.grain * Math.PI) / 180;
  const way: Spot = [Math.sin(turn) * long, Math.cos(turn) * long];
  const [x1, y1] = onTable(panel, [middle[0] - way[0], middle[1] - way[1]]);
  const [x2, y2] = onTable(panel, [middle[0] + way[0], middle[1] + way[1]]);
  return (
    <g className="pointer-events-none stroke-soft" strokeWidth={scale}>
      <line x1={x1} y1={y1} x2={x2} y2={y2} />
      <circle cx={x2} cy={y2} r={2.5 * scale} className="fill-soft" stroke="none" />
    </g>
  );
}

export function Name({ panel, scale }: { panel: Panel; scale: number }) {
  const ys = panel.outline.map((c) => c.at[1]);
  const xs = panel.outline.map((c) => c.at[0]);
  const x = panel.half === "fold" ? 0 : (Math.max(...xs) + Math.min(...xs)) / 2;
  const [tx, ty] = onTable(panel, [x, Math.min(...ys)]);
  const cut = panel.half === "pair" ? TEXT.cutTwo : panel.half === "fold" ? TEXT.onTheFold : TEXT.cutOne;
  return (
    <text x={tx} y={ty + 18 * scale} textAnchor="middle" fontSize={12 * scale} className="pointer-events-none fill-ink">
      {panel.name}
      <tspan className="fill-soft"> · {cut}</tspan>
    </text>
  );
}

/** Ten centimetres at the lower edge, whatever the size of the view. */
export function Ruler({
  box,
  scale,
  height,
}: {
  box: [number, number, number, number];
  scale: number;
  height: number;
}) {
  const x = box[0] + 14 * scale;
  const y = box[1] + box[3] / 2 + height / 2 - 14 * scale;
  return (
    <g className="pointer-events-none stroke-soft" strokeWidth={scale}>
      <path d={`M${x} ${y - 4 * scale}V${y}H${x + 100}V${y - 4 * scale}`} fill="none" />
      <text x={x + 100 + 6 * scale} y={y} fontSize={11 * scale} stroke="none" className="fill-soft">
        {TEXT.n10Cm}
      </text>
    </g>
  );
}
