import { invalidate } from "@react-three/fiber";
import { useCallback, useEffect, useRef, useState } from "react";
import { BufferAttribute, BufferGeometry } from "three";
import { artist } from "../../api/client";
import type { Fabric } from "../../api/drape";
import { type SewNotes, SewSocket } from "../../api/table";
import type { Frame } from "../../api/wire/frames";
import { normalsOf } from "../../stage/mesh/drawn";
import { useRoom } from "../../store/room";
import { TEXT } from "./texts";

export interface SewnMeshes {
  body: BufferGeometry;
  cloth: BufferGeometry;
  /** What is worn under the panels, in its colours. */
  under: BufferGeometry | null;
  /** Pairs of sewn vertices, drawn as threads while they are open. */
  threads: BufferGeometry;
}

function mesh(points: Float32Array, triangles: Int32Array): BufferGeometry {
  const made = new BufferGeometry();
  made.setAttribute("position", new BufferAttribute(points.slice(), 3));
  made.setAttribute("normal", new BufferAttribute(new Float32Array(points.length), 3));
  made.setIndex(new BufferAttribute(new Uint32Array(triangles), 1));
  normalsOf(points, triangles, made.getAttribute("normal").array as Float32Array);
  return made;
}

function coloured(frame: Frame<SewNotes>): BufferGeometry {
  const made = mesh(frame.array<Float32Array>("under"), frame.array<Int32Array>("under_triangles"));
  made.setAttribute("color", new BufferAttribute(frame.array<Float32Array>("under_colours").slice(), 3));
  return made;
}

/** A layout that is sewn on the stage: begun, stopped, kept as a piece. */
export function useSewing(layout: number | null) {
  const socket = useRef<SewSocket | null>(null);
  const going = useRef(false);
  const triangles = useRef<Int32Array>(new Int32Array());
  const pairs = useRef<Int32Array>(new Int32Array());
  const shown = useRef<SewnMeshes | null>(null);
  const [meshes, setMeshes] = useState<SewnMeshes | null>(null);
  const [told, setTold] = useState<SewNotes | null>(null);
  const [playing, setPlaying] = useState(false);

  const stop = useCallback(() => {
    going.current = false;
    setPlaying(false);
  }, []);
  const leave = useCallback(() => {
    stop();
    socket.current?.close();
    socket.current = null;
    shown.current = null;
    setMeshes(null);
    setTold(null);
  }, [stop]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another layout is sewn anew
  useEffect(() => leave, [layout, leave]);

  const show = useCallback((points: Float32Array) => {
    const on = shown.current;
    if (!on) return;
    const place = on.cloth.getAttribute("position") as BufferAttribute;
    (place.array as Float32Array).set(points);
    place.needsUpdate = true;
    const normal = on.cloth.getAttribute("normal") as BufferAttribute;
    normalsOf(points, triangles.current, normal.array as Float32Array);
    normal.needsUpdate = true;
    const ends = on.threads.getAttribute("position") as BufferAttribute;
    pairs.current.forEach((row, i) => {
      (ends.array as Float32Array).set(points.subarray(3 * row, 3 * row + 3), 3 * i);
    });
    ends.needsUpdate = true;
    invalidate();
  }, []);

  const open = useCallback(
    (number: number) => {
      socket.current ??= new SewSocket(
        number,
        (frame) => {
          const { notes } = frame;
          if (notes.ready) return;
          if (notes.kept !== undefined) {
            useRoom.getState().say({ kind: "done", text: TEXT.itHangsOnThe });
            setTold((was) => was && { ...was, hangs: notes.hangs });
            return;
          }
          if (notes.did === "begin") {
            triangles.current = frame.array<Int32Array>("triangles").slice();
            pairs.current = frame.array<Int32Array>("seams").slice();
            const threads = new BufferGeometry();
            threads.setAttribute("position", new BufferAttribute(new Float32Array(3 * pairs.current.length), 3));
            shown.current = {
              body: mesh(frame.array<Float32Array>("body"), frame.array<Int32Array>("body_triangles")),
              cloth: mesh(frame.array<Float32Array>("points"), triangles.current),
              threads,
              under: frame.has("under") ? coloured(frame) : null,
            };
            setMeshes(shown.current);
          }
          if (frame.has("points")) show(frame.array<Float32Array>("points"));
          setTold(notes);
          if (!going.current) return;
          if (notes.frames >= notes.of) stop();
          else socket.current?.send({ do: "next" });
        },
        (text) => {
          stop();
          useRoom.getState().say({ kind: "problem", text });
        },
      );
      return socket.current;
    },
    [show, stop],
  );

  return {
    meshes,
    told,
    playing,
    stop,
    /** Lay the panels round the wearer, and sew them if `on`. */
    begin(wearer: number, fabric: Fabric | null, size: number, over: boolean, on: boolean) {
      if (layout === null) return;
      socket.current?.close(); // what is still under way there is of no use
      socket.current = null;
      going.current = on;
      setPlaying(on);
      open(layout).send({ do: "begin", wearer, fabric, size, over });
    },
    goOn() {
      going.current = true;
      setPlaying(true);
      socket.current?.send({ do: "next" });
    },
    /** Hang it on the rail: as a piece of its own, or `anew` as the one that hangs there. */
    keep(anew: boolean) {
      stop();
      socket.current?.send({ do: "keep", author: artist(), anew });
    },
  };
}

export type Sewing = ReturnType<typeof useSewing>;
