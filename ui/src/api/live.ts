import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { clock } from "../offline/queue";
import type { Schemas } from "./client";
import { type Key, keys, stale } from "./keys";

type Told = Schemas["Told"];
type Yard = Schemas["Yard"];

/** What a screen holds that a change touches. */
export function touched({ topic, ref }: Told): Key[] {
  switch (topic) {
    case "wash":
      return [keys.wash(ref), keys.rest(ref), keys.day(), keys.yours()];
    case "booking":
    case "look-over":
      return [keys.plan(ref), keys.yard(), keys.day(), keys.slots(), keys.yours(), keys.vehicle()];
    case "audit":
      return [keys.audit(ref), keys.audits(), keys.yard(), keys.yours(), keys.vehicle()];
    case "absence":
      return [keys.yard(), keys.day(), keys.slots(), keys.yours()];
    case "notice":
      return [keys.outbox()];
    default: // anything may have changed
      return [keys.wash(), keys.yard(), keys.day(), keys.audits(), keys.outbox(), keys.yours(), keys.vehicle()];
  }
}

/** Puts a wash's pulse into the yard at once; whether the yard had it, and the wash goes on as it did. */
export function beat(yard: Yard, wash: string, pulse: Schemas["Pulse"], now: number): Yard | undefined {
  const card = yard.bookings.find((b) => b.washId === wash);
  if (!card || Boolean(card.pulse?.finished) !== Boolean(pulse.finished)) return undefined;
  const ready = pulse.finished ? Date.parse(pulse.finished) : now + pulse.left * 60_000;
  const lateBy = Math.max(0, Math.round((ready - Date.parse(card.promisedAt)) / 60_000));
  const next = { ...card, pulse, progress: pulse.share, readyAt: new Date(ready).toISOString(), lateBy };
  return { ...yard, bookings: yard.bookings.map((b) => (b === card ? next : b)) };
}

function hear(queries: QueryClient, told: Told): Key[] {
  const old = touched(told);
  if (told.topic !== "wash") return old;
  let known = false;
  if (told.pulse && told.ref) {
    const { pulse, ref } = told;
    queries.setQueryData<Yard>(keys.yard(), (yard) => {
      const next = yard && beat(yard, ref, pulse, clock.now());
      known = next !== undefined;
      return next ?? yard;
    });
  }
  return known ? old : [...old, keys.yard(), keys.times()];
}

/** Changes that come close together are fetched once, ms. */
const together = 250;

/** Follows what is saved elsewhere: a screen shows it within a second. The browser joins again by itself and is told what it missed. */
export function useLive(on: boolean) {
  const queries = useQueryClient();
  useEffect(() => {
    if (!on) return;
    const waiting = new Map<string, Key>();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const fetchAnew = () => {
      timer = undefined;
      stale(queries, ...waiting.values());
      waiting.clear();
    };
    const source = new EventSource("/api/live");
    source.onmessage = (e: MessageEvent<string>) => {
      for (const key of hear(queries, JSON.parse(e.data) as Told)) waiting.set(JSON.stringify(key), key);
      timer ??= setTimeout(fetchAnew, together);
    };
    return () => {
      source.close();
      clearTimeout(timer);
    };
  }, [on, queries]);
}
