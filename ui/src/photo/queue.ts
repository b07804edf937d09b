import { ask, client, Problem } from "../api/client";
import { db, type WaitingPhoto } from "../offline/db";
import { draftOf } from "../offline/draft";
import { newId } from "../offline/ids";
import { auditCopy, type KeptWalk } from "../offline/walks";

/** Photos on their way to the server: on the device's disk before anything else happens to them, sent one at a time by whoever took
 *  them, and let go when the server says that it has them. What it refuses stays, with the reason. */

let who = "";
let waiting: readonly WaitingPhoto[] = [];
let ready: Promise<void> | undefined;
let sending = false;
const watchers = new Set<() => void>();
const arrivals = new Set<(p: WaitingPhoto) => void>();

function hold(next: readonly WaitingPhoto[]) {
  waiting = next;
  watchers.forEach((w) => w());
}

export const waitingPhotos = () => waiting;

export function watchPhotos(changed: () => void) {
  watchers.add(changed);
  return () => void watchers.delete(changed);
}

/** Calls back for every photo that the server has taken. */
export function onArrival(got: (p: WaitingPhoto) => void) {
  arrivals.add(got);
  return () => void arrivals.delete(got);
}

function begin() {
  return (ready ??= (async () => {
    try {
      const disk = await (await db()).getAll("photos");
      const known = new Set(waiting.map((p) => p.id));
      hold([...disk.filter((p) => !known.has(p.id)), ...waiting]);
    } catch {
      // a browser that keeps nothing: photos live in this page until they are sent
    }
  })());
}

/** Says whose photos are taken and sent from now on. */
export function photosOf(person: string) {
  who = person;
  void sendPhotos();
}

async function write(p: WaitingPhoto) {
  try {
    await (await db()).put("photos", p);
  } catch {
    // no room: it lives in this page until it is sent
  }
}

async function forget(id: string) {
  hold(waiting.filter((p) => p.id !== id));
  try {
    await (await db()).delete("photos", id);
  } catch {
    // it was not written
  }
}

/** Keeps a photo. The promise is kept when it lies on the device's disk. */
export async function keepPhoto(made: Omit<WaitingPhoto, "id" | "who">) {
  await begin();
  const p = { ...made, id: newId(), who };
  hold([...waiting, p]);
  await write(p);
  void sendPhotos();
}

/** Lets go of a photo that was not sent, or was refused. */
export const letGoOfPhoto = (id: string) => forget(id);

function put({ subject, of, id: photo, zone, item, note, picture }: WaitingPhoto) {
  const with_ = {
    params: { path: { id: of, photo }, query: { zone: zone as never, item, note } },
    body: picture as unknown as string,
    bodySerializer: (b: unknown) => b as BodyInit,
    headers: { "Content-Type": "image/jpeg" },
  };
  switch (subject) {
    case "audit":
      return ask(client.PUT("/audits/{id}/photos/{photo}", with_));
    case "case":
      return ask(client.PUT("/own-cases/{id}/photos/{photo}", with_));
    default:
      return ask(client.PUT("/bookings/{id}/photos/{photo}", with_));
  }
}

/** What the server has read and refuses; whatever else goes wrong is tried again. */
const refusals = [400, 403, 404, 409, 413, 422];

/** Sends what waits, one photo at a time. */
export async function sendPhotos() {
  await begin();
  if (sending || !who) return;
  sending = true;
  try {
    for (let next = mine(); next; next = mine()) {
      const sent = next;
      try {
        await put(sent);
        arrivals.forEach((got) => got(sent));
        await forget(sent.id);
      } catch (e) {
        if (!(e instanceof Problem) || !refusals.includes(e.status)) throw e;
        const refused = { ...sent, refused: e.fields[0]?.message ?? e.message };
        hold(waiting.map((p) => (p.id === sent.id ? refused : p)));
        await write(refused);
      }
    }
  } catch {
    // it goes with the next attempt
  } finally {
    sending = false;
  }
}

const mine = () => waiting.find((p) => p.who === who && !p.refused && known(p));

/** Photos of a walk that was begun on this device wait until the shop knows the walk. */
const known = (p: WaitingPhoto) => p.subject !== "audit" || !draftOf<KeptWalk>(auditCopy(p.of))?.begun;

/** Gives the photos of one walk to another: somebody else had begun it first. */
export async function movePhotos(from: string, to: string) {
  await begin();
  const moved = waiting.filter((p) => p.of === from).map((p) => ({ ...p, of: to }));
  hold(waiting.map((p) => moved.find((m) => m.id === p.id) ?? p));
  for (const p of moved) await write(p);
}
