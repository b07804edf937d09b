import "fake-indexeddb/auto";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { Problem } from "../api/client";
import { fitted } from "./shrink";

/** A server as the queue sees it. */
const server = { status: 200, tried: 0, got: [] as string[] };

vi.mock("../api/client", async (original) => {
  const real = await original<typeof import("../api/client")>();
  return {
    ...real,
    ask: (reply: unknown) => reply,
    client: {
      PUT: (path: string, { params }: { params: { path: { photo: string } } }) => {
        server.tried += 1;
        if (server.status !== 200) return Promise.reject(new real.Problem(server.status, "No."));
        server.got.push(`${path} ${params.path.photo}`);
        return Promise.resolve([]);
      },
    },
  };
});

let queue: typeof import("./queue");

/** The page opened anew: what lies on the device's disk is all that it knows. */
async function open(who: string) {
  vi.resetModules();
  queue = await import("./queue");
  queue.photosOf(who);
  await queue.sendPhotos();
}

const taken = (of: string) => ({ subject: "audit" as const, of, zone: "bonnet", item: "upper", note: "", picture: new Blob(["x"]) });

/** A photo is kept, and an attempt to send it has failed. */
async function keptInVain() {
  server.status = 0;
  await queue.keepPhoto(taken("a1"));
  await vi.waitFor(() => expect(server.tried).toBe(1));
}

beforeEach(async () => {
  server.status = 200;
  await open("ann");
  for (const p of queue.waitingPhotos()) await queue.letGoOfPhoto(p.id);
  server.got = [];
  server.tried = 0;
});

describe("photos on their way", () => {
  it("wait without a connection, outlast the page, and are sent once", async () => {
    await keptInVain();
    await open("ann");
    expect(queue.waitingPhotos()).toHaveLength(1);
    server.status = 200;
    await queue.sendPhotos();
    await queue.sendPhotos();
    expect(server.got).toHaveLength(1);
    await open("ann");
    expect(queue.waitingPhotos()).toHaveLength(0);
  });

  it("are sent by whoever took them, and nobody else", async () => {
    await keptInVain();
    server.status = 200;
    await open("bo");
    expect(server.got).toHaveLength(0);
    expect(queue.waitingPhotos()).toHaveLength(1);
    await open("ann");
    expect(server.got).toHaveLength(1);
  });

  it("that are refused stay with the reason and hold nothing up", async () => {
    server.status = 403;
    await queue.keepPhoto(taken("a1"));
    await vi.waitFor(() => expect(queue.waitingPhotos()[0]?.refused).toBe("No."));
    server.status = 200;
    await queue.keepPhoto(taken("a2"));
    await vi.waitFor(() => expect(server.got).toHaveLength(1));
    expect(queue.waitingPhotos().map((p) => p.of)).toEqual(["a1"]);
    expect(new Problem(403, "No.").passing).toBe(false);
  });
});

describe("a photo's sides", () => {
  it("are no longer than they are kept, in their proportion, and never nothing", () => {
    expect(fitted(3200, 2400)).toEqual({ width: 1600, height: 1200 });
    expect(fitted(800, 600)).toEqual({ width: 800, height: 600 });
    expect(fitted(9000, 1)).toEqual({ width: 1600, height: 1 });
  });
});
