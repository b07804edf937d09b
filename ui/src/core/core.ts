import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import type { Tap } from "../offline/db";
import type { Answer, Call } from "./worker";

interface Hand {
  mitts: { faces: { exposed: number; sunk: number }[]; face: number }[];
  mitt: number;
  harm: number;
  rinses: number;
  bare: boolean;
  suds: number;
  bucket: { guard: boolean; up: number; bottom: number; litres?: number };
}

/** How a drill stands, as core/drill has it: what the screen shows of it. The rest is handed back as it came. */
export interface DrillState {
  clock: number;
  said: { do: string; text: string; causes?: { cause: string; cost: number }[] }[];
  done: boolean;
  mitt?: {
    panel: number;
    sheets: { cols: number; rows: number; grit: number[]; passes: number[]; harm: number[]; stuck?: boolean[] }[];
    hand: Hand;
    wet: number[];
    dried: boolean[];
    mishap?: string;
    folded?: number;
    towels?: number;
  };
  buckets?: {
    pails: { id: string; colour: string; label: string; litres: number; warm: boolean; guard: string; product: number; suds: boolean }[];
    washing: boolean;
    hand: Hand;
    round: number;
    rounds: number;
    rinsed: boolean;
    murky: number;
    mishap?: string;
  };
  drying?: {
    grams: number[];
    gone: number[];
    dried: boolean[];
    hidden: number[];
    towels: { holds: number; load: number; grit: number }[];
    towel: number;
    damp: boolean;
  };
  dwells?: {
    jobs: {
      stage: "" | "on" | "worked" | "off";
      onAt: number;
      offAt: number;
      felt: boolean;
      warm: boolean;
      cool: boolean;
      dried: boolean;
    }[];
    idle: number;
  };
}

/** What the core answers on this device, by the names of its calls (core/device). */
interface Calls {
  bay: {
    in: {
      steps: Schemas["PlannedStep"][];
      events: Tap[];
      closed: boolean;
      me: string;
      whose: string;
      washer: string;
      plan: { step?: string; start: number; who?: string }[];
    };
    out: { state: Schemas["State"]; lane: { step?: string; after: string[] }; undoes?: string };
  };
  drill: {
    in: { drill: Schemas["Task"]; state?: DrillState; actions: Schemas["Action"][] };
    out: { state: DrillState; refused?: string };
  };
}
export type In<K extends keyof Calls> = Calls[K]["in"];
export type Out<K extends keyof Calls> = Calls[K]["out"];

let worker: Worker | undefined;
let failed = false;
let count = 0;
const waiting = new Map<number, { told: (json: string) => void; refused: (e: Error) => void }>();

/** Whether the core cannot run on this device: the server's answers have to do. */
export const coreFailed = () => failed;

function begin(): Worker {
  const made = new Worker(new URL("./worker.ts", import.meta.url), { type: "module" });
  made.onmessage = ({ data }: MessageEvent<Answer>) => {
    if ("failed" in data) return fail(data.failed);
    const call = waiting.get(data.id);
    waiting.delete(data.id);
    if (data.id === 1) performance.mark("core answers"); // for ./run bench
    if ("out" in data) call?.told(data.out);
    else call?.refused(new Error(data.error));
  };
  made.onerror = (e) => fail(e.message);
  return made;
}

function fail(why: string) {
  failed = true;
  for (const call of waiting.values()) call.refused(new Error(why));
  waiting.clear();
}

/** Asks the core on this device; it is started by the first call. */
export async function compute<K extends keyof Calls>(name: K, input: In<K>): Promise<Out<K>> {
  if (failed) throw new Error("The core does not run on this device.");
  worker ??= begin();
  const call: Call = { id: ++count, name, json: JSON.stringify(input) };
  const json = await new Promise<string>((told, refused) => {
    waiting.set(call.id, { told, refused });
    worker?.postMessage(call);
  });
  return JSON.parse(json) as Out<K>;
}

/** Does something once what was drawn is seen: a tap's own change comes first. The first time is the core's start, which
 *  waits for an idle moment. Gives the way to call it off. */
function afterPaint(act: () => void): () => void {
  if (!worker && "requestIdleCallback" in window) {
    const idle = requestIdleCallback(act, { timeout: 400 });
    return () => cancelIdleCallback(idle);
  }
  const timer = setTimeout(act); // not a frame: a page that is not seen has none
  return () => clearTimeout(timer);
}

/** The newest answer to a call whose input changes, with the input that it is of; one that comes after a newer is let go. */
export function useCore<K extends keyof Calls>(name: K, input: In<K> | undefined): { of: In<K>; out: Out<K> } | undefined {
  const [answer, setAnswer] = useState<{ of: In<K>; out: Out<K> }>();
  useEffect(() => {
    if (!input) return;
    let stale = false;
    const told = (out: Out<K>) => {
      if (!stale) setAnswer({ of: input, out });
    };
    const painted = afterPaint(() => compute(name, input).then(told, () => undefined)); // coreFailed tells
    return () => {
      stale = true;
      painted();
    };
  }, [name, input]);
  return answer;
}
