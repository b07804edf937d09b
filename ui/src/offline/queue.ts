import { type Schemas, ask, client, Problem } from "../api/client";
import { DeviceClock, setRight } from "./clock";
import { crossOff, db, noted, type Queued, store, type Tap } from "./db";
import { newId, thisDevice } from "./ids";
import { clockKey, keep, recall, washKey, withEvents } from "./kept";

/** Taps on their way to the server. They are on the device's disk before anything else happens to them, leave it only when the server says that it has them, and are
 *  sent in their order by whoever made them; what the server refuses stays, with the reason, and holds nothing else up. */

/** What somebody says by a tap; the rest of it is made here or on the server. */
/** A tap as a screen makes it; its moment is now, or so many milliseconds ago. */
export type Made = Omit<Tap, "id" | "at" | "seq" | "by" | "device" | "late"> & { ago?: number };
export type Tapped = Schemas["Tapped"];

const mostAtOnce = 200;
const fewestAtOnce = 5;
const again = 3_000; // ms between attempts while taps wait
const idle = 15_000; // ms between looks at the disk while nothing waits: another page may have put taps there

export { newId };

export const clock = new DeviceClock({ wall: () => Date.now(), mono: () => performance.now() }, newId());

let seq = 0;
let who = "";
let waiting: Queued[] = [];
let trouble: Problem | null = null;
let ready: Promise<void> | undefined;
let begun = false;
const watchers = new Set<() => void>();
const answered = new Set<(wash: string, sent: Tap[], reply: Tapped) => void>();

/** The lists that screens read; the same object until something changes. */
const lists = new Map<string, Queued[]>();

function list(key: string, of: (t: Queued) => boolean) {
  const known = lists.get(key) ?? waiting.filter(of);
  lists.set(key, known);
  return known;
}

function tell() {
  lists.clear();
  watchers.forEach((w) => w());
}

/** Reads what waits from the device, once. */
export function begin() {
  return (ready ??= (async () => {
    const stored = await recall<{ skew: number; seq: number }>(clockKey);
    clock.remember(stored?.skew ?? 0);
    seq = Math.max(seq, stored?.seq ?? 0);
    const cut = noted();
    if (cut.length > 0) await store(cut).catch(() => (waiting = cut)); // written now, or kept in mind
    await reload();
    begun = true;
  })());
}

async function reload() {
  let disk: Queued[];
  try {
    disk = await (await db()).getAll("taps");
  } catch {
    return; // a browser that keeps nothing: taps live in this page until they are sent
  }
  const memory = new Map(waiting.map((t) => [t.id, t]));
  for (const t of disk) memory.set(t.id, t);
  waiting = [...memory.values()].sort((a, b) => a.seq - b.seq);
  seq = Math.max(seq, ...waiting.map((t) => t.seq + 1), 0);
  tell();
}

/** Says whose taps these are from now on. */
export function signedIn(id: string) {
  who = id;
  void begin().then(() => send());
}

/** Learns the server's clock from an answer. An answer also says that the server is there: taps that failed to reach it do not wait for their next attempt. */
export async function timed<T extends { now: string }>(ask: () => Promise<T>): Promise<T> {
  const asked = clock.mono();
  const reply = await ask();
  clock.learn(Date.parse(reply.now), asked, clock.mono());
  void keep(clockKey, { skew: clock.lag(), seq });
  if (trouble?.passing) void send();
  return reply;
}

export const unsentOf = (wash: string) => list(`unsent ${wash}`, (t) => t.wash === wash && !t.refused);
export const refusedOf = (wash: string) => list(`refused ${wash}`, (t) => t.wash === wash && t.refused !== undefined);
export const unsent = () => waiting.filter((t) => !t.refused).length;
export const lastTrouble = () => trouble;

export function watch(changed: () => void) {
  watchers.add(changed);
  return () => void watchers.delete(changed);
}

export function onAnswer(got: (wash: string, sent: Tap[], reply: Tapped) => void) {
  answered.add(got);
  return () => void answered.delete(got);
}

/** Makes taps of this moment. They are seen at once; the promise is kept when they are on the device's disk. */
export async function tap(wash: string, ...made: Made[]) {
  if (!begun) await begin();
  const now = clock.now();
  const taps = made.map(({ ago = 0, ...t }): Queued => ({
    ...t,
    id: newId(),
    at: new Date(now - ago).toISOString(),
    seq: seq++,
    wash,
    who,
    by: who,
    device: thisDevice(),
    wall: clock.wall() - ago,
    mono: clock.mono() - ago,
    stretch: clock.stretch,
    sure: clock.sure,
  }));
  waiting = [...waiting, ...taps];
  tell();
  try {
    await store(taps);
  } catch {
    trouble = new Problem(507, "This device has no room to keep taps: leave this page open until they are sent.");
    tell();
  }
  void keep(clockKey, { skew: clock.lag(), seq });
  void send();
}

/** What only this device has to know of a tap. */
const ofTheDevice = new Set<string>(["wash", "who", "by", "wall", "mono", "stretch", "sure", "refused"] satisfies (keyof Queued)[]);

/** A tap as it is sent: all that was said by it, and nothing that is the device's own or empty. */
const wire = (t: Queued) =>
  Object.fromEntries(
    Object.entries(t).filter(([key, value]) => !ofTheDevice.has(key) && value !== undefined && value !== ""),
  ) as unknown as Tap;

let sending = false;
/** How many taps go at once: fewer after one that did not get through, as on a slow line, and more again once they do. */
let atOnce = mostAtOnce;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Sends what waits, wash by wash. */
export async function send() {
  if (sending || !who) return;
  sending = true;
  clearTimeout(timer);
  try {
    for (let mine = ofMine(); mine.length > 0; mine = ofMine()) {
      const wash = mine[0]?.wash ?? "";
      await sendOne(wash, mine.filter((t) => t.wash === wash).slice(0, atOnce));
      atOnce = Math.min(mostAtOnce, atOnce * 2);
    }
    trouble = null;
  } catch (error) {
    atOnce = Math.max(fewestAtOnce, Math.floor(atOnce / 2));
    trouble = error instanceof Problem ? error : new Problem(0, "The taps wait on this device.");
  } finally {
    sending = false;
    tell();
    timer = setTimeout(() => void reload().then(send, send), ofMine().length > 0 ? again : idle);
  }
}

const ofMine = () => waiting.filter((t) => t.who === who && !t.refused);

async function sendOne(wash: string, taps: Queued[]) {
  if (taps.some((t) => !t.sure)) {
    // The server's clock first: these were made by the device's own.
    if (!clock.sure) await timed(() => ask(client.GET("/health")));
    const right = new Map(setRight(waiting, clock).map((t) => [t.id, t]));
    waiting = waiting.map((t) => right.get(t.id) ?? t);
    taps = taps.map((t) => right.get(t.id) ?? t);
  }
  const events = taps.map(wire);
  try {
    const reply = await timed(() => ask(client.POST("/washes/{id}/events", { params: { path: { id: wash } }, body: { events } })));
    const gone = new Set(taps.map((t) => t.id));
    const sent = taps.map((t) => ({ ...wire(t), by: t.who }));
    answered.forEach((got) => got(wash, sent, reply));
    waiting = waiting.filter((t) => !gone.has(t.id));
    tell();
    await arrived(wash, sent);
  } catch (error) {
    // Only what the server has read and refuses is set aside; whatever else goes wrong is tried again.
    if (!(error instanceof Problem) || ![400, 403, 404, 409, 413, 422].includes(error.status)) throw error;
    await setAside(taps, error);
  }
}

/** Taps leave the queue and enter the kept copy of their wash in one step: a bay that opens without a network finds each in one place or the other. */
async function arrived(wash: string, sent: Tap[]) {
  crossOff(sent.map((t) => t.id));
  const tx = (await db()).transaction(["taps", "kept"], "readwrite");
  const kept = await tx.objectStore("kept").get(washKey(wash));
  if (kept) await tx.objectStore("kept").put({ ...kept, value: withEvents(kept.value as { events: Tap[] }, sent) });
  await Promise.all([...sent.map((t) => tx.objectStore("taps").delete(t.id)), tx.done]);
}

/** Sets refused taps aside: the one the server names, or all of a wash that it does not take taps for. The others go on. */
async function setAside(taps: Queued[], error: Problem) {
  const named = error.fields.flatMap((f) => /^events\[(\d+)\]/.exec(f.location)?.[1] ?? []).map(Number);
  const why = error.fields[0]?.message ?? error.message;
  const refused = named.length > 0 ? taps.filter((_, i) => named.includes(i)) : taps;
  const ids = new Set(refused.map((t) => t.id));
  waiting = waiting.map((t) => (ids.has(t.id) ? { ...t, refused: why } : t));
  tell();
  await store(refused.map((t) => ({ ...t, refused: why })));
}

/** Lets a refused tap go, when somebody has read why. */
export async function letGo(id: string) {
  waiting = waiting.filter((t) => t.id !== id);
  tell();
  crossOff([id]);
  await (await db()).delete("taps", id);
}

/** The network is back: the server's clock first, then the taps. */
async function back() {
  await timed(() => ask(client.GET("/health"))).catch(() => undefined);
  await send();
}

if (typeof window !== "undefined") window.addEventListener("online", () => void back());
