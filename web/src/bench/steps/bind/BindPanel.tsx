import { useEffect, useRef, useState } from "react";
import type { Step } from "../../../api/client";
import { useRoomOf } from "../../../store/room";
import { Tabs } from "../../../ui/Tabs";
import type { StepProps } from "../../step";
import { BendTest } from "./BendTest";
import { BrushTab } from "./BrushTab";
import { TEXT } from "./texts";
import { WeightChecks } from "./WeightChecks";
import { WeightsTab } from "./WeightsTab";

export interface BindProps extends Pick<StepProps, "piece" | "mesh" | "under" | "onKeep"> {
  /** Keep the strokes and mends made on the weights as they are to stand. */
  onWeigh(steps: Step[], label: string): void;
}

const TABS = [TEXT.weights, TEXT.brush, TEXT.checks, TEXT.bend] as const;
type Tab = (typeof TABS)[number];

/** The bind step: where weights come from, the brush, what is wrong with them, and how they bend. */
export function BindPanel(props: BindProps) {
  const { set, weights, bending } = useRoomOf("set", "weights", "bending");
  const [tab, setTab] = useState<Tab>(bending ? "Bend" : "Weights");
  const seen = useRef(bending);
  useEffect(() => {
    if (bending !== seen.current) setTab("Bend"); // the key was pressed
    seen.current = bending;
  }, [bending]);
  const faults = props.piece.report.bind?.findings.length ?? 0;
  const bound = !!props.piece.report.bind;
  const open = (name: Tab) => {
    setTab(name);
    const tool = name === "Brush" ? "add" : null;
    const map = name === "Brush" ? "weights" : name === "Checks" && faults ? "faults" : "cloth";
    set({ map, weights: { ...weights, tool, faults: [] } });
  };
  return (
    <div>
      <Tabs
        names={TABS}
        open={tab}
        mark={{ Checks: faults > 0 && <span className="ml-1 text-amber">{faults}</span> }}
        off={(name) => !bound && name !== "Weights"}
        onOpen={open}
      />
      {tab === "Weights" && <WeightsTab {...props} />}
      {tab === "Brush" && <BrushTab {...props} />}
      {tab === "Checks" && <WeightChecks {...props} />}
      {tab === "Bend" && <BendTest piece={props.piece} />}
    </div>
  );
}
