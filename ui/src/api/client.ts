import createClient from "openapi-fetch";
import type { components, paths as Paths } from "./schema.gen";

export type Schemas = components["schemas"];
export type paths = Paths;

/** The one fetch layer. Types come from the API description, which comes from the Go types. */
export const client = createClient<Paths>({ baseUrl: "/api" });

/** An error as the server tells it (RFC 9457), or the lack of a server. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly fields: { location: string; message: string }[] = [],
    private readonly type = "",
  ) {
    super(message);
  }
  /** Whether trying again later may help: no network, or the database away. */
  get passing() {
    return this.status === 0 || this.status === 503 || this.status === 502;
  }
  /** Whether somebody else saved first. */
  get stale() {
    return this.status === 409;
  }
  /** Whether it is hidden from somebody who is asked to look again blind. */
  get veiled() {
    return this.type === "urn:problem:blind";
  }
}

interface ProblemBody {
  type?: string;
  detail?: string;
  title?: string;
  errors?: { location?: string; message?: string }[] | null;
}

interface Reply<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** Gives the body of a reply or throws a Problem. */
export async function ask<T>(reply: Promise<Reply<T>>): Promise<T> {
  let got: Reply<T>;
  try {
    got = await reply;
  } catch {
    throw new Problem(0, "No connection to the shop's server.");
  }
  if (got.response.ok) return got.data as T;
  const body = (got.error ?? {}) as ProblemBody;
  const fields = (body.errors ?? []).map((e) => ({ location: (e.location ?? "").replace(/^body\.?/, ""), message: e.message ?? "" }));
  throw new Problem(got.response.status, body.detail ?? body.title ?? `The server answered ${got.response.status}.`, fields, body.type);
}
