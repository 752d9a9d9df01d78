import { useCallback, useEffect, useRef, useState } from "react";
import { artist, type Piece } from "../../../api/client";
import { type DrapeNotes, DrapeSocket, type DrapeStep, fetchFall } from "../../../api/drape";
import type { Frame } from "../../../api/wire/frames";
import { type PieceMesh, showPoints } from "../../../stage/mesh/piece";
import { useRoom } from "../../../store/room";
import { TEXT } from "./texts";

function download(bytes: Uint8Array<ArrayBuffer>, name: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([bytes]));
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}

/** The meshes of the other pieces that stand, by their address: those that fall along are drawn where they are. */
type Beside = ReadonlyMap<string, PieceMesh>;

/** A piece that falls on the stage: played, stopped, scrubbed, pulled, kept. Without a mesh nothing falls. */
export function useFalling(piece: Piece | undefined, mesh: PieceMesh | undefined, beside: Beside) {
  const socket = useRef<DrapeSocket | null>(null);
  const [told, setTold] = useState<DrapeNotes | null>(null);
  const [playing, setPlaying] = useState(false);
  const [strain, setStrain] = useState<Float32Array | null>(null);
  const [contact, setContact] = useState<Float32Array | null>(null);
  const going = useRef(false);
  const others = useRef(beside);
  others.current = beside;
  const moved = useRef(new Set<PieceMesh>());
  const coming = useRef(false); // a frame is asked for and not here yet
  const seen = useRef<Frame<DrapeNotes>[]>([]); // every frame that was played, to be shown again at once
  const again = useRef<ReturnType<typeof setInterval> | null>(null);
  const [replaying, setReplaying] = useState(false);
  const [fromKept, setFromKept] = useState(false);

  const stop = useCallback(() => {
    going.current = false;
    setPlaying(false);
    if (again.current) clearInterval(again.current);
    again.current = null;
    setReplaying(false);
  }, []);

  const leave = useCallback(() => {
    stop();
    socket.current?.close();
    socket.current = null;
    seen.current = [];
    setFromKept(false);
    setTold(null);
    if (mesh) showPoints(mesh, mesh.kept);
    for (const other of moved.current) showPoints(other, other.kept);
    moved.current.clear();
    useRoom.getState().set({ draping: null, drapingShape: null });
  }, [mesh, stop]);

  useEffect(() => leave, [leave]);

  const next = useCallback(() => {
    if (coming.current) return;
    coming.current = true;
    socket.current?.send({ do: "next", contact: useRoom.getState().fallen === "contact" });
  }, []);

  const display = useCallback(
    (frame: Frame<DrapeNotes>) => {
      if (!mesh) return;
      const { notes } = frame;
      showPoints(mesh, frame.array<Float32Array>("points"));
      for (const [sha, other] of others.current)
        if (frame.has(`points:${sha}`)) {
          showPoints(other, frame.array<Float32Array>(`points:${sha}`));
          moved.current.add(other);
        }
      useRoom.getState().set({ draping: notes.rotations ?? {}, drapingShape: notes.shape ?? null });
      setTold({ ...notes, have: Math.max(notes.have, seen.current.length) });
      setStrain(frame.has("strain") ? frame.array<Float32Array>("strain") : null);
      setContact(frame.has("contact") ? frame.array<Float32Array>("contact") : null);
    },
    [mesh],
  );

  const open = useCallback(() => {
    if (!piece || !mesh || socket.current) return;
    socket.current = new DrapeSocket(
      piece.id,
      (frame) => {
        const { notes } = frame;
        if (notes.kept) return leave();
        if (notes.kept_all) return useRoom.getState().say({ kind: "done", text: TEXT.everyFrameIsKept });
        if (frame.has("file")) return download(frame.array<Uint8Array>("file").slice(), notes.name ?? "drape.usdc");
        if (frame.has("points")) {
          if (notes.did === "next" && notes.frame !== undefined) seen.current[notes.frame] = frame;
          display(frame);
        }
        if (notes.did === "next" || notes.did === "begin") coming.current = false;
        if (!going.current || coming.current) return;
        if (notes.have >= notes.of && notes.did === "next") stop();
        else next();
      },
      (text) => {
        coming.current = false;
        stop();
        useRoom.getState().say({ kind: "problem", text });
      },
    );
  }, [piece, mesh, stop, leave, next, display]);

  return {
    ready: !!piece && !!mesh,
    told,
    playing,
    /** The strain of each vertex in the frame that is shown. */
    strain,
    /** How far each vertex lies off what it falls on, metres. */
    contact,
    stop,
    leave,
    /** Play from the start. */
    play(step: DrapeStep) {
      leave();
      useRoom.getState().set({ drapedThrough: step.motion ?? "" });
      open();
      going.current = true;
      setPlaying(true);
      coming.current = true;
      socket.current?.send({ do: "begin", step });
    },
    /** Go on from the last frame there is. */
    goOn() {
      going.current = true;
      setPlaying(true);
      next();
    },
    show(frame: number) {
      stop();
      const contact = useRoom.getState().fallen === "contact";
      const known = seen.current[frame];
      if (known && (!contact || known.has("contact") || !socket.current)) display(known);
      else socket.current?.send({ do: "show", frame, contact });
    },
    replaying,
    /** What is shown was kept earlier: it can be seen and put back, not gone on with. */
    fromKept,
    /** Play what there is over and over, as fast as it goes: 24 frames to the second. */
    replay() {
      stop();
      let at = 0;
      setReplaying(true);
      again.current = setInterval(() => {
        const frame = seen.current[at % Math.max(seen.current.length, 1)];
        at += 1;
        if (frame) display(frame);
      }, 1000 / 24);
    },
    /** Keep a frame: the server stores the piece as it lies there, and everyone hears. */
    keep(frame: number, label: string) {
      stop();
      socket.current?.send({ do: "keep", frame, label, author: artist() });
    },
    /** Keep every frame that was played. */
    keepAll(label: string) {
      stop();
      socket.current?.send({ do: "keep_all", label, author: artist() });
    },
    /** See a whole fall again that was kept. */
    async see(fall: number) {
      leave();
      const frames = await fetchFall(fall);
      seen.current = frames;
      setFromKept(true);
      if (frames[0]) display(frames[0]);
    },
    /** Save all that was played as a file. */
    file() {
      stop();
      socket.current?.send({ do: "file" });
    },
    grab(vertex: number, to: [number, number, number]) {
      socket.current?.send({ do: "grab", vertex, to });
    },
    letGo() {
      socket.current?.send({ do: "let_go" });
    },
  };
}

export type Falling = ReturnType<typeof useFalling>;
