import "fake-indexeddb/auto";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Problem } from "../api/client";
import type { Tap } from "./db";

/** A server as the queue sees it: it takes what it is sent, or does what the test says. */
const server = {
  down: false,
  refuses: undefined as ((e: Tap) => boolean) | undefined,
  status: 0,
  /** Taps a batch may have to get through in time. */
  most: Infinity,
  got: [] as Tap[][],
  now: () => Date.now(),
};

vi.mock("../api/client", async (original) => {
  const real = await original<typeof import("../api/client")>();
  const answer = (body: { events: Tap[] }) => {
    if (server.down) return Promise.reject(new real.Problem(0, "No connection."));
    if (server.status) return Promise.reject(new real.Problem(server.status, "The server has trouble."));
    if (body.events.length > server.most) return Promise.reject(new real.Problem(408, "It took too long."));
    const at = body.events.findIndex((e) => server.refuses?.(e));
    if (at >= 0)
      return Promise.reject(
        new real.Problem(422, "Some of this cannot be.", [{ location: `events[${at}]`, message: "this wash has no such step" }]),
      );
    server.got.push(body.events);
    return Promise.resolve({ events: server.got.flat().length, now: new Date(server.now()).toISOString() });
  };
  return {
    ...real,
    ask: (reply: unknown) => reply,
    client: {
      GET: () =>
        server.down
          ? Promise.reject(new real.Problem(0, "No connection."))
          : Promise.resolve({ now: new Date(server.now()).toISOString() }),
      POST: (_: string, { body }: { body: { events: Tap[] } }) => answer(body),
    },
  };
});

const wash = "w";
let queue: typeof import("./queue");

/** The page opened anew: what is on the device's disk is all it knows. */
async function open(who: string) {
  vi.resetModules();
  queue = await import("./queue");
  queue.signedIn(who);
  await queue.begin();
}

/** Until nothing waits; the queue's own next attempt may be seconds away. */
const settled = () =>
  vi.waitFor(
    async () => {
      await queue.send();
      expect(queue.unsentOf(wash)).toHaveLength(0);
    },
    { timeout: 5000, interval: 20 },
  );
const kinds = () => server.got.flat().map((e) => e.kind);

/** A browser's storage, as far as the queue uses it. */
function storage() {
  const items = Object.create({
    setItem: (k: string, v: string) => void (items[k] = v),
    removeItem: (k: string) => Reflect.deleteProperty(items, k),
  }) as Record<string, string>;
  Object.defineProperty(items, "length", { get: () => Object.keys(items).length });
  vi.stubGlobal("localStorage", items);
  return items;
}

afterEach(() => void vi.unstubAllGlobals());

beforeEach(async () => {
  indexedDB = new (await import("fake-indexeddb")).IDBFactory();
  Object.assign(server, { down: false, refuses: undefined, status: 0, most: Infinity, got: [], now: () => Date.now() });
  await open("osk");
});

describe("taps on their way", () => {
  it("are sent in their order, with ids and times of the device", async () => {
    await queue.tap(wash, { kind: "start", step: "foam" });
    await queue.tap(wash, { kind: "done", step: "foam" }, { kind: "start", step: "rinse" });
    await settled();
    expect(kinds()).toEqual(["start", "done", "start"]);
    const sent = server.got.flat();
    expect(new Set(sent.map((e) => e.id)).size).toBe(3);
    expect(sent.map((e) => e.seq)).toEqual([0, 1, 2]);
    expect(sent[0]?.id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
    expect(sent[0]).not.toHaveProperty("who");
  });

  it("wait while there is no network, and survive that the page is closed", async () => {
    server.down = true;
    await queue.tap(wash, { kind: "start", step: "foam" });
    expect(queue.unsentOf(wash)).toHaveLength(1);
    await open("osk");
    expect(queue.unsentOf(wash)).toHaveLength(1);
    await queue.tap(wash, { kind: "done", step: "foam" });
    server.down = false;
    await queue.send();
    await settled();
    expect(kinds()).toEqual(["start", "done"]);
  });

  it("outlive a page that is closed before its disk has written", async () => {
    const browser = storage();
    server.down = true;
    await queue.tap(wash, { kind: "start", step: "foam" });
    expect(browser.length).toBe(0); // written, crossed off
    void queue.tap(wash, { kind: "done", step: "foam" });
    expect(browser.length).toBe(1); // noted in the moment of the tap
    const cut = { ...browser };
    await vi.waitFor(() => expect(browser.length).toBe(0));
    indexedDB = new (await import("fake-indexeddb")).IDBFactory(); // nothing came to the disk
    Object.assign(browser, cut);
    await open("osk");
    expect(queue.unsentOf(wash).map((t) => t.kind)).toEqual(["done"]);
    expect(browser.length).toBe(0);
    server.down = false;
    await queue.send();
    await settled();
    expect(kinds()).toEqual(["done"]);
  });

  it("are noted with the browser where the disk takes nothing, until the server has them", async () => {
    const browser = storage();
    indexedDB = { open: () => { throw new Error("no room"); } } as unknown as IDBFactory; // prettier-ignore
    await open("osk");
    server.down = true;
    await queue.tap(wash, { kind: "start", step: "foam" });
    expect(queue.lastTrouble()?.status).toBe(507);
    expect(browser.length).toBe(1);
    await open("osk");
    expect(queue.unsentOf(wash)).toHaveLength(1);
    server.down = false;
    await settled();
    expect(kinds()).toEqual(["start"]);
    await vi.waitFor(() => expect(browser.length).toBe(0));
  });

  it("are tried again whatever goes wrong with the server", async () => {
    for (const status of [500, 502, 503, 429]) {
      server.status = status;
      await queue.tap(wash, { kind: "note", text: String(status) });
      await vi.waitFor(() => expect(queue.lastTrouble()?.status).toBe(status));
      expect(queue.refusedOf(wash)).toEqual([]);
    }
    expect(queue.unsentOf(wash)).toHaveLength(4);
    server.status = 0;
    await queue.send();
    await settled();
    expect(server.got.flat()).toHaveLength(4);
  });

  it("go as soon as the server answers anything, however long it was away", async () => {
    server.down = true;
    await queue.tap(wash, { kind: "start", step: "foam" });
    await vi.waitFor(() => expect(queue.lastTrouble()?.passing).toBe(true));
    server.down = false;
    await queue.timed(() => Promise.resolve({ now: new Date().toISOString() }));
    await vi.waitFor(() => expect(kinds()).toEqual(["start"]));
  });

  it("that the server refuses are set aside with the reason, and hold nothing else up", async () => {
    server.down = true;
    await queue.tap(wash, { kind: "start", step: "foam" });
    await queue.tap(wash, { kind: "start", step: "gone" });
    await queue.tap(wash, { kind: "done", step: "foam" });
    Object.assign(server, { down: false, refuses: (e: Tap) => e.step === "gone" });
    await queue.send();
    await settled();
    expect(kinds()).toEqual(["start", "done"]);
    expect(queue.refusedOf(wash).map((t) => t.refused)).toEqual(["this wash has no such step"]);
    await open("osk");
    expect(queue.refusedOf(wash)).toHaveLength(1);
    await queue.letGo(queue.refusedOf(wash)[0]?.id ?? "");
    await open("osk");
    expect(queue.refusedOf(wash)).toEqual([]);
  });

  it("of one person are not sent as another's", async () => {
    server.down = true;
    await queue.tap(wash, { kind: "start", step: "foam" });
    server.down = false;
    await open("pia");
    await queue.tap(wash, { kind: "note", text: "mine" });
    await vi.waitFor(() => expect(kinds()).toEqual(["note"]));
    expect(queue.unsentOf(wash).map((t) => t.who)).toEqual(["osk"]);
    await open("osk");
    await settled();
    expect(kinds()).toEqual(["note", "start"]);
  });

  it("made by a wrong clock count at the server's time", async () => {
    const ahead = 5 * 3600_000;
    server.down = true;
    await queue.tap(wash, { kind: "start", step: "foam" });
    const made = Date.now();
    Object.assign(server, { down: false, now: () => Date.now() + ahead });
    await queue.send();
    await settled();
    expect(Math.abs(Date.parse(server.got[0]?.[0]?.at ?? "") - (made + ahead))).toBeLessThan(200);
  });

  it("enter the kept copy of their wash as they leave the queue", async () => {
    const { keep, recall, washKey } = await import("./kept");
    await keep(washKey(wash), { label: "saloon", events: [] });
    await queue.tap(wash, { kind: "start", step: "foam" });
    await settled();
    await vi.waitFor(async () => {
      const view = await recall<{ label: string; events: Tap[] }>(washKey(wash));
      expect(view?.events.map((e) => [e.kind, e.by])).toEqual([["start", "osk"]]);
    });
  });

  it("are made and sent also in a browser that keeps nothing", async () => {
    indexedDB = { open: () => { throw new Error("no storage here"); } } as unknown as IDBFactory; // prettier-ignore
    await open("osk");
    await queue.tap(wash, { kind: "start", step: "foam" });
    await vi.waitFor(() => expect(kinds()).toEqual(["start"]));
  });

  it("go in batches that the server takes", async () => {
    server.down = true;
    await queue.tap(wash, ...Array.from({ length: 450 }, (_, i) => ({ kind: "note" as const, text: String(i) })));
    server.down = false;
    await queue.send();
    await settled();
    expect(server.got.map((b) => b.length)).toEqual([100, 200, 150]); // half after the one that did not get through
    expect(server.got.flat().map((e) => e.text)).toEqual(Array.from({ length: 450 }, (_, i) => String(i)));
  });

  it("go in smaller batches over a line that is too slow for large ones", async () => {
    server.most = 20;
    await queue.tap(wash, ...Array.from({ length: 130 }, (_, i) => ({ kind: "note" as const, text: String(i) })));
    await settled();
    expect(Math.max(...server.got.map((b) => b.length))).toBeLessThanOrEqual(20);
    expect(server.got.flat().map((e) => e.text)).toEqual(Array.from({ length: 130 }, (_, i) => String(i)));
  });

  it("say which device made them", async () => {
    await queue.tap(wash, { kind: "start", step: "foam" }, { kind: "done", step: "foam" });
    await settled();
    const devices = new Set(server.got.flat().map((e) => e.device));
    expect(devices.size).toBe(1);
    expect([...devices][0]).toMatch(/^[0-9a-f-]{36}$/);
  });
});

describe("what the device keeps", () => {
  it("keeps a wash's taps when an older answer comes after newer ones", async () => {
    const { askKept, keep, recall, washKey, withEvents } = await import("./kept");
    const view = (...ids: string[]) => ({ events: ids.map((id) => ({ id })) });
    await keep(washKey(wash), view("a", "b"));
    await askKept(washKey(wash), () => Promise.resolve(view("a")), (now, was) => withEvents(now, was.events)); // prettier-ignore
    await vi.waitFor(async () => expect(await recall(washKey(wash))).toEqual(view("a", "b")));
    expect(withEvents(view("a"), [{ id: "a" }])).toEqual(view("a"));
  });

  it("keeps the clock when somebody signs out, and nothing of theirs", async () => {
    const { clockKey, forget, keep, recall } = await import("./kept");
    await keep("yard", "today");
    await keep(clockKey, { skew: 5, seq: 9 });
    await forget();
    expect(await recall("yard")).toBeUndefined();
    expect(await recall(clockKey)).toEqual({ skew: 5, seq: 9 });
  });

  it("is shown where the server cannot be reached, and only then", async () => {
    const { askKept, forget } = await import("./kept");
    expect(await askKept("yard", () => Promise.resolve("today"))).toBe("today");
    const away = () => Promise.reject(new Problem(0, "No connection."));
    await vi.waitFor(async () => expect(await askKept("yard", away)).toBe("today"));
    await expect(askKept("yard", () => Promise.reject(new Problem(403, "Not yours.")))).rejects.toThrow("Not yours.");
    await expect(askKept("other", away)).rejects.toThrow("No connection.");
    await forget();
    await expect(askKept("yard", away)).rejects.toThrow("No connection.");
  });
});
