import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import { useCallback, useEffect, useRef, useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type Schemas, ask, client, Problem } from "../api/client";

export type Tap = Schemas["Event"];
type WashView = Schemas["WashView"];

interface TapDB extends DBSchema {
  taps: { key: string; value: Tap & { wash: string }; indexes: { wash: string } };
}

let opened: Promise<IDBPDatabase<TapDB>> | undefined;

/** Taps wait on this device until the server has them: a reload or a flat battery loses none. */
const db = () =>
  (opened ??= openDB<TapDB>("uskel", 1, {
    upgrade: (d) => {
      d.createObjectStore("taps", { keyPath: "id" }).createIndex("wash", "wash");
    },
  }));

const waiting = async (wash: string) =>
  (await (await db()).getAllFromIndex("taps", "wash", wash)).sort((a, b) => Date.parse(a.at) - Date.parse(b.at) || a.seq - b.seq);

const wire = ({ id, kind, step, at, seq, text, undoes }: Tap): Tap => ({
  id,
  kind,
  at,
  seq,
  ...(step ? { step } : {}),
  ...(text ? { text } : {}),
  ...(undoes ? { undoes } : {}),
});

/** Shows taps the server does not have yet on top of its state. The server's fold decides as soon as it answers. */
export function project(view: WashView, taps: Tap[]): Schemas["State"] {
  const state = structuredClone(view.state);
  const undone = new Set(taps.flatMap((t) => (t.kind === "undo" && t.undoes ? [t.undoes] : [])));
  const known = new Set(view.events.map((e) => e.id));
  for (const t of taps) {
    if (t.kind === "undo" || undone.has(t.id) || known.has(t.id)) continue;
    state.lastTap = t.id;
    if (t.kind === "finish") state.finished = t.at;
    if (t.kind === "note") state.notes.push({ at: t.at, text: t.text ?? "", ...(t.step ? { step: t.step } : {}) });
    const s = state.steps.find((x) => x.id === t.step);
    const plan = view.steps.find((x) => x.id === t.step);
    if (!s || !plan) continue;
    const stretch = s.since ? Math.round((Date.parse(t.at) - Date.parse(s.since)) / 1000) : 0;
    const run = () => {
      if (s.status === "waiting") {
        s.started = t.at;
        for (const d of state.dwelling)
          if (d.verdict === "working" && plan.ends?.includes(d.step)) {
            d.ended = t.at;
            d.verdict =
              Date.parse(t.at) < Date.parse(d.earliest) - 5000
                ? "early"
                : Date.parse(t.at) > Date.parse(d.latest) + 5000
                  ? "overrun"
                  : "kept";
          }
      } else if (s.status === "paused") s.paused += stretch;
      else return;
      s.status = "running";
      s.since = t.at;
      state.current = s.id;
    };
    const close = () => {
      if (s.status === "running") s.handsOn += stretch;
      if (s.status === "paused") s.paused += stretch;
      s.ended = t.at;
      delete s.since;
      if (state.current === s.id) delete state.current;
    };
    if (t.kind === "start" || t.kind === "resume") run();
    else if (t.kind === "pause" && s.status === "running") {
      s.handsOn += stretch;
      s.status = "paused";
      s.since = t.at;
    } else if (t.kind === "skip" && s.status !== "done") {
      close();
      s.status = "skipped";
    } else if (t.kind === "done" && s.status !== "done" && s.status !== "skipped") {
      if (s.status === "waiting") run();
      close();
      s.status = "done";
      if (plan.dwell) {
        const at = (sec: number) => new Date(Date.parse(t.at) + sec * 1000).toISOString();
        for (const d of state.dwelling)
          if (d.verdict === "working" && plan.rewets?.includes(d.step) && Date.parse(s.started ?? t.at) <= Date.parse(d.latest) + 5000) {
            const label = Date.parse(d.since) + (view.steps.find((x) => x.id === d.step)?.dwell?.label ?? 0) * 1000;
            const until = Math.min(label, Date.parse(at(plan.dwell.to)));
            if (until > Date.parse(d.latest)) d.latest = new Date(until).toISOString();
          }
        state.dwelling.push({ step: s.id, since: t.at, earliest: at(plan.dwell.from), latest: at(plan.dwell.to), verdict: "working" });
      }
    }
  }
  const next = state.steps.find((s) => s.status === "waiting")?.id;
  if (next) state.next = next;
  else delete state.next;
  return state;
}

/** A wash with its unsent taps, and the way to tap. */
export function useWash(id: string) {
  const queries = useQueryClient();
  const [unsent, setUnsent] = useState<Tap[]>([]);
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const sending = useRef(false);
  const ahead = useRef(0); // the server's clock less this device's, ms
  const seq = useRef(0);
  const wash = useQuery({
    queryKey: ["wash", id],
    queryFn: async () => {
      const view = await ask(client.GET("/washes/{id}", { params: { path: { id } } }));
      ahead.current = Date.parse(view.now) - Date.now();
      return view;
    },
    refetchInterval: 4_000,
  });

  const send = useCallback(async () => {
    if (sending.current) return;
    sending.current = true;
    try {
      for (let batch = await waiting(id); batch.length > 0; batch = await waiting(id)) {
        const view = await ask(
          client.POST("/washes/{id}/events", { params: { path: { id } }, body: { events: batch.slice(0, 200).map(wire) } }),
        );
        ahead.current = Date.parse(view.now) - Date.now();
        const tx = (await db()).transaction("taps", "readwrite");
        await Promise.all([...batch.slice(0, 200).map((t) => tx.store.delete(t.id)), tx.done]);
        queries.setQueryData(["wash", id], view);
        setUnsent(await waiting(id));
        setTrouble(null);
      }
    } catch (error) {
      setTrouble(error instanceof Problem ? error : new Problem(0, "The taps wait on this device."));
    } finally {
      sending.current = false;
    }
  }, [id, queries]);

  useEffect(() => {
    void waiting(id).then(setUnsent).then(send);
    const again = setInterval(() => void send(), 3_000);
    const online = () => void send();
    window.addEventListener("online", online);
    return () => {
      clearInterval(again);
      window.removeEventListener("online", online);
    };
  }, [id, send]);

  const now = useCallback(() => Date.now() + ahead.current, []);

  const tap = useCallback(
    async (...taps: Pick<Tap, "kind" | "step" | "text" | "undoes">[]) => {
      const made = taps.map((t) => ({ ...t, id: crypto.randomUUID(), at: new Date(now()).toISOString(), seq: seq.current++, wash: id }));
      setUnsent((before) => [...before, ...made]); // seen at once
      const tx = (await db()).transaction("taps", "readwrite");
      await Promise.all([...made.map((t) => tx.store.put(t)), tx.done]);
      void send();
    },
    [id, now, send],
  );
  return { wash, unsent, trouble, tap, now };
}
