import type { Schemas } from "../api/client";
import { draftOf, draftsOf } from "./draft";

/** An answer on its way: the version that it was made from tells the server whether somebody else has answered since. */
export interface WaitingAnswer {
  item: string;
  version: number;
  answer: Schemas["Answer"];
}

/** A walk round a finished wash as this device keeps it, until the shop knows it. */
export interface KeptWalk {
  /** Begun on this device, and the shop does not know yet. */
  begun?: { wash: string; list: string; version: number };
  /** Whose answers these are: they wait until whoever gave them is signed in. */
  who?: string;
  light?: Schemas["AuditView"]["light"];
  waiting: WaitingAnswer[];
  refused: (WaitingAnswer & { says: string })[];
}

/** Under what a walk is kept on this device: its answers that wait, and as it was seen last. */
export const auditCopy = (id: string) => `audit ${id}`;

/** The walk round a wash that was begun on this device and of which the shop does not know yet. */
export const begunHere = (wash: string) => draftsOf(auditCopy("")).find((id) => draftOf<KeptWalk>(auditCopy(id))?.begun?.wash === wash);

/** Somebody's walks with something on this device that the shop does not have yet. */
export const walksOf = (who: string) =>
  draftsOf(auditCopy("")).filter((id) => {
    const k = draftOf<KeptWalk>(auditCopy(id));
    return k && (k.who === undefined || k.who === who) && (k.begun || k.light || k.waiting.length > 0);
  });
