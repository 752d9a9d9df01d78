import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { useRoom } from "../../store/room";
import { inProduction } from "../client";
import { Changes, eventOf } from "../wire/events";
import { renewCells, renewPiece } from "./production";

/** Keep what is shown fresh: every change anyone makes arrives as a server-sent event, and what it names is put in its place. */
export function useChanges(): void {
  const client = useQueryClient();
  const production = useRoom((s) => s.production);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the address names the production that is open
  useEffect(() => {
    const refetch = (query: string) => void client.invalidateQueries({ queryKey: [query] });
    const orRefetch = (query: string, done: Promise<boolean>) =>
      done.then(
        (placed) => placed || refetch(query),
        () => refetch(query),
      );
    const source = new EventSource(inProduction("/api/events"));
    const changes = new Changes(({ queries, pieces, cells }) => {
      for (const query of queries) refetch(query);
      for (const piece of pieces) orRefetch("pieces", renewPiece(client, piece));
      for (const [trial, changed] of cells) orRefetch("trial", renewCells(client, trial, [...changed]));
    });
    source.onmessage = ({ data }) => {
      const event = eventOf(String(data));
      if (event) changes.take(event);
    };
    return () => {
      source.close();
      changes.stop();
    };
  }, [client, production]);
}
