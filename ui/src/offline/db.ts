import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { Schemas } from "../api/client";

export type Tap = Schemas["Event"];

/** A tap on its way, with what the device knew of the time when it was made. */
export interface Queued extends Tap {
  wash: string;
  /** Person signed in when it was made: nobody else's sign-in sends it. */
  who: string;
  /** The device's own clock when it was made, ms. */
  wall: number;
  /** The device's count of its running time then, ms, and the stretch of running in which that count holds. */
  mono: number;
  stretch: string;
  /** Whether the server's clock was known in that stretch. */
  sure: boolean;
  /** Why the server refused it; it is not sent again. */
  refused?: string;
}

interface Kept {
  key: string;
  value: unknown;
  at: number;
}

/** A photo on its way. */
export interface WaitingPhoto {
  id: string;
  subject: "look-over" | "audit" | "case";
  /** The look-over's booking, the audit, or the case of the shop's own. */
  of: string;
  /** What it shows; empty for the whole vehicle. */
  zone: string;
  /** The look of the checklist, for an audit's. */
  item: string;
  note: string;
  /** Person signed in when it was taken: nobody else's sign-in sends it. */
  who: string;
  picture: Blob;
  /** Why the server refused it; it is not sent again. */
  refused?: string;
}

interface DeviceDB extends DBSchema {
  taps: { key: string; value: Queued; indexes: { wash: string } };
  kept: { key: string; value: Kept };
  photos: { key: string; value: WaitingPhoto };
}

let opened: Promise<IDBPDatabase<DeviceDB>> | undefined;

/** What this device keeps: taps until the server has them, and the last of what it was shown. */
export const db = () =>
  (opened ??= openDB<DeviceDB>("uskel", 3, {
    upgrade: (d, from) => {
      if (from < 1) d.createObjectStore("taps", { keyPath: "id" }).createIndex("wash", "wash");
      if (from < 2) d.createObjectStore("kept", { keyPath: "key" });
      if (from < 3) d.createObjectStore("photos", { keyPath: "id" });
    },
    blocking: (_now, _to, e) => (e.target as IDBDatabase).close(),
  }));

const prefix = "tap ";

/** Notes taps with the browser, which takes them in this very moment: a page that is closed under the finger, before its disk has written, has handed them over. */
function note(taps: Queued[]) {
  try {
    for (const t of taps) localStorage.setItem(prefix + t.id, JSON.stringify(t));
  } catch {
    // no such storage, or no room: the disk alone must do
  }
}

/** Crosses taps off that are safe elsewhere. */
export function crossOff(ids: string[]) {
  try {
    for (const id of ids) localStorage.removeItem(prefix + id);
  } catch {
    // nothing was noted
  }
}

/** Taps that were noted and not crossed off: their page did not live to see them written. */
export function noted(): Queued[] {
  try {
    return Object.entries(localStorage as Record<string, string>).flatMap(([k, t]) =>
      k.startsWith(prefix) ? (JSON.parse(t) as Queued) : [],
    );
  } catch {
    return [];
  }
}

/** Writes taps to the device's disk. The promise is kept when they lie there. */
export async function store(taps: Queued[]) {
  note(taps);
  const tx = (await db()).transaction("taps", "readwrite", { durability: "strict" });
  await Promise.all([...taps.map((t) => tx.store.put(t)), tx.done]);
  crossOff(taps.map((t) => t.id));
}
