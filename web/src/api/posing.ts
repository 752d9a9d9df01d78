import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { useRoom } from "../store/room";
import type { Rotations } from "./client";
import { api, type Joint, type LibraryPose, type Posed, type Problem } from "./client";
import { useServerChange } from "./hooks";
import { type Frame, fetchFrame } from "./wire/frames";

const FOR_EVER = { staleTime: Number.POSITIVE_INFINITY };
type Quaternions = Record<string, [number, number, number, number]>;

export function usePoseLibrary() {
  return useQuery<LibraryPose[], Problem>({
    queryKey: ["pose library"],
    ...FOR_EVER,
    queryFn: async () => (await api.GET("/api/poses")).data as LibraryPose[],
  });
}

export function usePoseAxis() {
  const add = useServerChange(
    async (name: string) => (await api.POST("/api/poses", { body: { name } })).data,
    ["axis", "cast", "trial"],
  );
  const drop = useServerChange(
    (name: string) => api.DELETE("/api/poses/{name}", { params: { path: { name } } }),
    ["axis", "cast", "trial"],
  );
  return { add, drop };
}

export function useOwnPose() {
  const client = useQueryClient();
  const again = () => client.invalidateQueries({ queryKey: ["pose library"] });
  const keep = useServerChange(
    async (pose: { label: string; rotations: Rotations }) => {
      const { data } = await api.POST("/api/poses/own", {
        body: { label: pose.label, rotations: pose.rotations as Quaternions },
      });
      await again();
      return data;
    },
    ["axis", "cast", "trial"],
  );
  const forget = useServerChange(
    async (name: string) => {
      await api.DELETE("/api/poses/own/{name}", { params: { path: { name } } });
      await again();
    },
    ["axis", "cast", "trial"],
  );
  return { keep, forget };
}

export function useJoints(enabled: boolean) {
  return useQuery<Joint[], Problem>({
    queryKey: ["joints"],
    enabled,
    ...FOR_EVER,
    queryFn: async () => (await api.GET("/api/poses/joints")).data as Joint[],
  });
}

export type Move =
  | { kind: "drag"; joint: string; target: [number, number, number]; shape: Record<string, number> }
  | { kind: "turn"; joint: string; degrees?: number[] }
  | { kind: "side"; act: "mirror" | "copy l" | "copy r" };

async function moved(move: Move, rotations: Quaternions): Promise<Posed> {
  switch (move.kind) {
    case "drag": {
      const { joint, target, shape } = move;
      return (await api.POST("/api/poses/drag", { body: { rotations, joint, target, shape } })).data as Posed;
    }
    case "turn":
      return (
        await api.POST("/api/poses/turn", { body: { rotations, joint: move.joint, degrees: move.degrees ?? null } })
      ).data as Posed;
    case "side":
      return (await api.POST("/api/poses/side", { body: { rotations, act: move.act } })).data as Posed;
  }
}

/**
 * Ask the server for the pose after a move. One question is under way at a time and only the newest waits, so a drag never lags
 * behind; `from` starts the move at the pose before the drag.
 */
export function usePosingMove() {
  const { set, say } = useRoom.getState();
  const busy = useRef(false);
  const waiting = useRef<{ move: Move; from?: Rotations } | null>(null);
  const run = async (move: Move, from?: Rotations): Promise<void> => {
    if (busy.current) {
      waiting.current = { move, from };
      return;
    }
    busy.current = true;
    try {
      const posing = useRoom.getState().posing;
      if (!posing) return;
      const done = await moved(move, (from ?? posing.rotations) as Quaternions);
      const now = useRoom.getState().posing;
      if (!now) return;
      const joint = move.kind === "side" ? null : move.joint;
      set({ posing: { ...now, rotations: done.rotations, joint, degrees: done.degrees, short: done.short } });
    } catch (error) {
      say({ kind: "problem", text: (error as Error).message });
    } finally {
      busy.current = false;
      const next = waiting.current;
      waiting.current = null;
      if (next) await run(next.move, next.from);
    }
  };
  return run;
}

/** Take the pose as it stands into the history, before it is changed. */
export function markPosing(): void {
  const { posing, set } = useRoom.getState();
  if (posing) set({ posing: { ...posing, past: [...posing.past.slice(-60), posing.rotations], next: [] } });
}

export function stepPosing(back: boolean): void {
  const { posing, set } = useRoom.getState();
  if (!posing) return;
  const [from, to] = back ? [posing.past, posing.next] : [posing.next, posing.past];
  const rotations = from.at(-1);
  if (!rotations) return;
  const rest = from.slice(0, -1);
  const other = [...to, posing.rotations];
  const kept = { ...posing, rotations, joint: null, degrees: [], short: 0 };
  set({ posing: back ? { ...kept, past: rest, next: other } : { ...kept, past: other, next: rest } });
}

export interface MotionNotes {
  name: string;
  joints: string[];
  seconds_per_frame: number;
}

export function useMotions() {
  return useQuery<{ name: string; label: string; seconds: number }[], Problem>({
    queryKey: ["motions"],
    ...FOR_EVER,
    queryFn: async () => (await api.GET("/api/motions")).data ?? [],
  });
}

export function useMotion(name: string | null) {
  return useQuery<Frame<MotionNotes>, Problem>({
    queryKey: ["motion", name],
    enabled: name !== null,
    structuralSharing: false,
    ...FOR_EVER,
    queryFn: () => fetchFrame<MotionNotes>(`/api/motions/${name}`),
  });
}
