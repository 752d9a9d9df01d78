import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, artist, type CellAsked, inProduction, type Problem, problemOf, type Trial } from "./client";
import { useServerChange } from "./hooks";
import type { components } from "./schema";

export type Cause = components["schemas"]["CauseOut"];
export type Remedy = components["schemas"]["RemedyOut"];
export type Waiver = components["schemas"]["WaiverOut"];
export type Plan = components["schemas"]["PlanOut"];
export type TrialBrief = components["schemas"]["TrialBriefOut"];
type Explained = components["schemas"]["ExplainedOut"];

export interface Explanation {
  causes: Cause[];
  remedies: Remedy[];
  trying: string;
  done: boolean;
}
const NOTHING: Explanation = { causes: [], remedies: [], trying: "", done: false };

/** Why a pair shows in a cell and what would help: causes and remedies come in one by one; asking anew or leaving stops it. */
export function useExplain() {
  const [found, setFound] = useState<Explanation | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const running = useRef<AbortController | null>(null);
  const stop = useCallback(() => {
    running.current?.abort();
    running.current = null;
    setFound((f) => f && { ...f, done: true });
  }, []);
  useEffect(() => () => running.current?.abort(), []);
  const ask = async (asked: { cell: CellAsked; over: string; under: string; wearer?: number; ease: number }) => {
    running.current?.abort();
    const control = new AbortController();
    running.current = control;
    setFound({ ...NOTHING, trying: "Trying what helps" });
    setProblem(null);
    try {
      const answer = await fetch(inProduction("/api/explain"), {
        method: "POST",
        signal: control.signal,
        headers: { "Content-Type": "application/json", "X-Artist": artist() },
        body: JSON.stringify(asked),
      });
      if (!answer.ok || !answer.body) throw await problemOf(answer);
      const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
      let rest = "";
      for (;;) {
        const { value, done } = await reader.read();
        if (done) break;
        const lines = (rest + value).split("\n");
        rest = lines.pop() ?? "";
        for (const line of lines.filter(Boolean)) {
          const said = JSON.parse(line) as Explained;
          setFound((f) => {
            const now = f ?? NOTHING;
            return {
              causes: said.cause ? [...now.causes, said.cause] : now.causes,
              remedies: said.remedy ? [...now.remedies, said.remedy].sort((a, b) => a.cost - b.cost) : now.remedies,
              trying: said.trying || now.trying,
              done: !!said.done,
            };
          });
        }
      }
    } catch (error) {
      if (!control.signal.aborted) {
        setFound(null);
        setProblem((error as Error).message);
      }
    }
  };
  const reset = useCallback(() => {
    stop();
    setFound(null);
  }, [stop]);
  return { found, problem, ask, stop, reset };
}

export function useWaivers() {
  const list = useQuery<Waiver[], Problem>({
    queryKey: ["waivers"],
    queryFn: async () => (await api.GET("/api/waivers")).data as Waiver[],
  });
  const waive = useServerChange(
    async (asked: components["schemas"]["WaiverIn"]) => (await api.POST("/api/waivers", { body: asked })).data,
  );
  const drop = useServerChange(
    async (waiver: number) => (await api.DELETE("/api/waivers/{waiver}", { params: { path: { waiver } } })).data,
  );
  return { list: list.data ?? [], waive, drop };
}

export function usePins() {
  const list = useQuery<{ wearer: number; pose: string }[], Problem>({
    queryKey: ["pins"],
    queryFn: async () => (await api.GET("/api/pins")).data as { wearer: number; pose: string }[],
  });
  const pin = useServerChange(
    async (asked: { wearer: number; pose: string; pinned: boolean }) =>
      (await api.PUT("/api/pins", { body: asked })).data,
  );
  return { list: list.data ?? [], pin };
}

/** The newest plan that clears the sheet, and what can be done with it. */
export function usePlan() {
  const plan = useQuery<Plan | null, Problem>({
    queryKey: ["plan"],
    refetchInterval: (query) => (query.state.data?.state === "planning" ? 500 : false),
    queryFn: async () => ((await api.GET("/api/plans/latest")).data ?? null) as Plan | null,
  });
  const again = { onSuccess: () => void plan.refetch() };
  const make = useServerChange(
    async (cell: { wearer: number; pose: string } | null) => (await api.POST("/api/plans", { body: cell })).data,
  );
  const path = (id: number) => ({ params: { path: { plan: id } } });
  const carryOut = useServerChange(
    async (id: number) => (await api.POST("/api/plans/{plan}/carry-out", path(id))).data,
  );
  const undo = useServerChange(async (id: number) => (await api.POST("/api/plans/{plan}/undo", path(id))).data);
  const drop = useServerChange(async (id: number) => (await api.DELETE("/api/plans/{plan}", path(id))).data);
  return {
    plan: plan.data ?? null,
    busy: make.isPending || carryOut.isPending || undo.isPending,
    /** Plans for the whole sheet, or for one cell. */
    make: (cell: { wearer: number; pose: string } | null = null) => make.mutate(cell, again),
    carryOut: (id: number) => carryOut.mutate(id, again),
    undo: (id: number) => undo.mutate(id, again),
    drop: (id: number) => drop.mutate(id, again),
  };
}

/** The runs of the sheet there are to compare with. */
export function useTrialRuns(enabled: boolean) {
  return useQuery<TrialBrief[], Problem>({
    queryKey: ["trial runs"],
    enabled,
    staleTime: 0,
    queryFn: async () => (await api.GET("/api/trials")).data as TrialBrief[],
  });
}

export function useTrialRun(trial: number | null) {
  return useQuery<Trial, Problem>({
    queryKey: ["trial run", trial],
    enabled: trial !== null,
    queryFn: async () =>
      (await api.GET("/api/trials/{trial}", { params: { path: { trial: trial as number } } })).data as Trial,
  });
}
