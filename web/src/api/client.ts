import createClient, { createQuerySerializer, type Middleware } from "openapi-fetch";
import { useRoom } from "../store/room";
import type { components, paths } from "./schema";

export type Production = components["schemas"]["ProductionOut"];
export type Piece = components["schemas"]["PieceOut"];
export type Wearer = components["schemas"]["WearerOut"];
export type Outfit = components["schemas"]["OutfitOut"];
export type Pose = components["schemas"]["PoseOut"];
export type Trial = components["schemas"]["TrialOut"];
export type TrialCell = components["schemas"]["TrialCellOut"];
export type Figures = components["schemas"]["Figures"];
export type ClearedCell = components["schemas"]["ClearedCell"];
export type Measure = components["schemas"]["MeasureOut"];
export type Candidate = components["schemas"]["CandidateOut"];
export type OwnBody = components["schemas"]["BodyOut"];
export type LibraryPose = components["schemas"]["LibraryPoseOut"];
export type Joint = components["schemas"]["JointOut"];
export type Posed = components["schemas"]["PosedOut"];
export type CellAsked = components["schemas"]["CellIn"];
/** Turns of joints, as quaternions (x, y, z, w) by the joint's name. */
export type Rotations = Record<string, number[]>;
export type Recipe = Piece["recipe"];
export type Step = NonNullable<Recipe["steps"]>[number];
export type StepKind = NonNullable<Step["kind"]>;

/** The cell of a wearer's shape in a pose; a pose of one's own brings its rotations along. */
export function cellAsked(
  shape: Record<string, number>,
  pose: Pose | undefined,
  body: string | null = null,
): CellAsked {
  const cell = { shape, pose: pose?.name ?? "rest", ...(body && { body }) };
  return pose?.family === "own" ? { ...cell, rotations: pose.rotations as CellAsked["rotations"] } : cell;
}

/** What the server could not use: what, where, what to do. */
export class Problem extends Error {
  constructor(
    readonly what: string,
    readonly where: string,
    readonly todo: string,
  ) {
    super(`${where}: ${what}. ${todo}`);
  }
}

export function artist(): string {
  return localStorage.getItem("artist") ?? "Artist";
}

export async function problemOf(answer: Response): Promise<Problem> {
  try {
    const body = await answer.json();
    return new Problem(
      body.what ?? "the server answered with an error",
      body.where ?? "the server",
      body.todo ?? "Try again.",
    );
  } catch {
    return new Problem(`the server answered ${answer.status}`, "the server", "Try again; nothing saved is lost.");
  }
}

const middleware: Middleware = {
  onRequest({ request }) {
    // a plain GET can use what index.html has asked for ahead
    if (request.method !== "GET") request.headers.set("X-Artist", artist());
    return request;
  },
  async onResponse({ response }) {
    if (!response.ok) throw await problemOf(response);
  },
  onError() {
    return new Problem(
      "the server cannot be reached",
      "the network",
      "See that ./heron start is running; nothing saved is lost.",
    );
  },
};

/** A path of the API, asked about the production that is open. */
export function inProduction(path: string): string {
  const { production } = useRoom.getState();
  return production === null ? path : `${path}${path.includes("?") ? "&" : "?"}production=${production}`;
}

const serialized = createQuerySerializer<Record<string, unknown>>();

export const api = createClient<paths>({
  baseUrl: "",
  querySerializer: (query) => {
    const { production } = useRoom.getState();
    return serialized(production === null ? query : { ...query, production });
  },
});
api.use(middleware);
