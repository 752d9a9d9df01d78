import { type UseQueryResult, useQueries, useQuery } from "@tanstack/react-query";
import { useMemo, useRef } from "react";
import { cellAsked, type Pose, type Production } from "../api/client";
import { useCell } from "../api/hooks";
import { hangsFor } from "../recipe/outfits";
import { layerNames } from "../recipe/pairs";
import { fetchFigure } from "../stage/mesh/figure";
import { fetchPiece, type PieceMesh } from "../stage/mesh/piece";
import { useRoomOf } from "../store/room";
import { TEXT } from "./texts";

const KEEP = { staleTime: Number.POSITIVE_INFINITY, gcTime: 300_000 };

function collect(results: UseQueryResult<PieceMesh>[]): (PieceMesh | undefined)[] {
  return results.map((r) => r.data);
}

/** What stands on the stage: wearer, pose, pieces with their meshes, and the measured cell. A second stage has a figure of its own. */
export function useFitting(production: Production, stage = "") {
  const room = useRoomOf(
    "draping",
    "drapingShape",
    "glance",
    "live",
    "motion",
    "picking",
    "piece",
    "pose",
    "posing",
    "step",
    "wearer",
  );
  const wearer = production.cast.find((w) => w.id === room.wearer) ?? production.cast[0];
  const own = production.bodies.find((b) => b.body === wearer?.body) ?? null;
  const rail = useMemo(() => production.pieces.filter((p) => hangsFor(p, wearer)), [production.pieces, wearer]);
  const piece = rail.find((p) => p.id === room.piece) ?? rail[0];
  const shape = useMemo(
    () => room.live ?? room.drapingShape ?? wearer?.shape ?? {},
    [room.live, room.drapingShape, wearer],
  );
  const body = own?.body ?? null;
  const figure = useQuery({ queryKey: ["figure", body, stage], queryFn: () => fetchFigure(body), ...KEEP });
  // while a piece is worked out, or a step of it failed, what stood before is shown
  const seen = useRef(new Map<number, string>());
  const unfinished = room.step !== null && room.step !== "finish"; // a step works on the cloth as the steps before made it
  const standing = useMemo(() => {
    for (const p of rail) if (p.geometry) seen.current.set(p.id, unfinished ? p.geometry : (p.finished ?? p.geometry));
    return rail.filter((p) => seen.current.has(p.id));
  }, [rail, unfinished]);
  const wanted = standing.map((p) =>
    room.glance === "before" && p.id === piece?.id && p.before ? p.before : seen.current.get(p.id),
  );
  const meshes = useQueries({
    queries: wanted.map((sha) => ({
      queryKey: ["geometry", sha],
      queryFn: () => fetchPiece(sha as string),
      structuralSharing: false,
      ...KEEP,
    })),
    combine: collect,
  });
  const worn = useMemo(
    () => standing.flatMap((p, i) => (meshes[i] ? [{ piece: p, mesh: meshes[i] }] : [])),
    [standing, meshes],
  );
  const bound = worn.every(({ mesh }) => mesh.bound); // as it is shown: its recipe may be ahead of that
  const chosen = production.poses.find((p) => p.name === room.pose) ?? production.poses[0];
  const turns = room.posing?.rotations ?? room.draping ?? undefined;
  const byHand = useMemo<Pose | undefined>(
    () => turns && { name: "by-hand", label: TEXT.byHand, family: "own", rotations: turns },
    [turns],
  );
  const still = room.step === "place" || room.step === "work" || room.picking !== null; // hands work on the rest shape
  const meant = byHand ?? (bound && !still ? chosen : undefined);
  const pose = own && meant ? (own.poses.find((p) => p.name === meant.name) ?? meant) : meant;
  const asked = useMemo(() => cellAsked(shape, meant, body), [shape, meant, body]);
  // what is measured is what is shown: these pieces, as they are drawn, in the order of the rail
  const shown = standing.flatMap((p, i) => {
    const geometry = wanted[i];
    return geometry ? [{ piece: p.id, geometry }] : [];
  });
  const names = useMemo(() => layerNames(standing), [standing]);
  const key = standing.map((p, i) => `${p.rail} ${names.get(p.id)} ${wanted[i]}`).join();
  const steady = room.live === null && room.motion === null && room.draping === null;
  const cell = useCell(
    { ...asked, wearer: wearer?.id, pieces: shown },
    key,
    standing.length > 0 && steady,
    JSON.stringify(production.shots),
  );
  const measured = steady && !cell.isPlaceholderData ? cell.data : undefined;
  return {
    own,
    rail,
    asked,
    wearer,
    piece,
    shape,
    pose,
    chosen,
    bound,
    figure,
    worn,
    cell,
    measured,
    names,
    loading: meshes.some((m) => !m),
  };
}

export type Fitting = ReturnType<typeof useFitting>;
