import { expect, onTestFinished } from "vitest";

export interface Asked {
  method: string;
  path: string;
  query: Record<string, string>;
  body: unknown;
}
type Answer = unknown | ((asked: Asked) => unknown);

/** What the server says of a request that it cannot use (RFC 9457, with what, where and what to do). */
export class Refusal {
  constructor(
    readonly status: number,
    readonly what: string,
    readonly where = "the request",
    readonly todo = "Change it.",
  ) {}
}

let acts = 0;
/** How often any house has been asked or has answered. */
export const houseActs = () => acts;

/** A server for one test. `answers` are by method and path, as in "GET /api/pieces/7", a star for one part of a path; a function is told
 * what was asked. A request that nothing answers fails the test. */
export function house(answers: Record<string, Answer>) {
  const asked: Asked[] = [];
  const unanswered: string[] = [];
  const laid = Object.entries(answers)
    .reverse()
    .map(([key, answer]) => {
      const [method, path = ""] = key.split(" ");
      return { method, path: new RegExp(`^${path.replaceAll("*", "[^/]+")}$`), answer };
    });
  globalThis.answersRequests = async (request) => {
    acts += 1;
    const answer = await answerOf(request);
    acts += 1;
    return answer;
  };
  const answerOf = async (request: Request): Promise<Response> => {
    const url = new URL(request.url);
    const one = {
      method: request.method,
      path: url.pathname,
      query: Object.fromEntries(url.searchParams),
      body: await bodyOf(request),
    };
    asked.push(one);
    const found = laid.find((a) => a.method === one.method && a.path.test(one.path));
    if (!found) {
      unanswered.push(`${one.method} ${one.path}`);
      return answered(new Refusal(404, "nothing answers this"));
    }
    try {
      return answered(typeof found.answer === "function" ? await found.answer(one) : found.answer);
    } catch (error) {
      unanswered.push(String(error)); // an assertion in the answer
      return answered(new Refusal(500, String(error)));
    }
  };
  onTestFinished(() => {
    globalThis.answersRequests = undefined;
    expect(unanswered).toEqual([]);
  });
  return {
    asked,
    /** What was sent with each request of this method to this path. */
    sent: (key: string) => asked.filter((a) => `${a.method} ${a.path}` === key).map((a) => a.body),
  };
}

async function bodyOf(request: Request): Promise<unknown> {
  if ("form" in request) return request.form;
  const kind = request.headers.get("Content-Type") ?? "";
  if (kind.startsWith("application/json")) return request.json();
  return (await request.text()) || null;
}

function answered(answer: unknown): Response {
  if (answer instanceof Response) return answer;
  if (answer instanceof ArrayBuffer) return new Response(answer);
  if (answer instanceof Refusal) {
    const { status, ...said } = answer;
    return new Response(JSON.stringify(said), { status, headers: { "Content-Type": "application/problem+json" } });
  }
  if (answer === undefined) return new Response(null, { status: 204 });
  return new Response(JSON.stringify(answer), { headers: { "Content-Type": "application/json" } });
}
