import { Problem } from "../api/client";
import { db } from "./db";

/** Under what a wash is kept. */
export const washKey = (id: string) => `wash ${id}`;

/** A wash with further taps of its log. Logs only grow: an answer that was on its way while taps arrived takes none of them back. */
export function withEvents<T extends { events: { id: string }[] }>(view: T, more: T["events"]): T {
  const known = new Set(view.events.map((e) => e.id));
  const others = more.filter((e) => !known.has(e.id));
  return others.length > 0 ? { ...view, events: [...view.events, ...others] } : view;
}

/** Asks the server, and where it cannot be reached gives what it said last. What it refuses is refused. Merge says how a new answer stands to the copy before it; it replaces it when absent. */
export async function askKept<T>(key: string, fetch: () => Promise<T>, merge?: (now: T, was: T) => T): Promise<T> {
  try {
    const value = await fetch();
    void keep(key, value, merge);
    return value;
  } catch (error) {
    if (!(error instanceof Problem) || !error.passing) throw error;
    const last = await recall<T>(key);
    if (last === undefined) throw error;
    return last;
  }
}

/** Keeps a copy on this device. A device without room or in private browsing goes on without. */
export async function keep<T>(key: string, value: T, merge: (now: T, was: T) => T = (now) => now) {
  try {
    const tx = (await db()).transaction("kept", "readwrite");
    const was = await tx.store.get(key);
    await tx.store.put({ key, value: was ? merge(value, was.value as T) : value, at: Date.now() });
    await tx.done;
  } catch {
    // the copy is a convenience
  }
}

export async function recall<T>(key: string): Promise<T | undefined> {
  try {
    return (await (await db()).get("kept", key))?.value as T | undefined;
  } catch {
    return undefined;
  }
}

/** Under what the device's own clock and count are kept. */
export const clockKey = "clock";

/** Signing out leaves nothing to read on the device; taps that wait stay, and what it knows of its clock. */
export async function forget() {
  try {
    const tx = (await db()).transaction("kept", "readwrite");
    for (const key of await tx.store.getAllKeys()) if (key !== clockKey) await tx.store.delete(key);
    await tx.done;
  } catch {
    // nothing was kept
  }
}

const old = 9 * 24 * 3600_000; // a week offline, and some

/** Lets go of copies that nobody will look at any more. */
export async function tidy() {
  try {
    const tx = (await db()).transaction("kept", "readwrite");
    for (const k of await tx.store.getAll()) if (k.at < Date.now() - old) await tx.store.delete(k.key);
    await tx.done;
  } catch {
    // nothing was kept
  }
}
