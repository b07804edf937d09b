import { useCallback, useEffect, useMemo, useSyncExternalStore } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type Schemas, ask, client } from "../api/client";
import { useMe } from "../api/shop";
import { askKept, washKey, withEvents } from "../offline/kept";
import { fold, lastOf } from "./fold";
import { begin, clock, lastTrouble, type Made, onAnswer, refusedOf, tap as queue, timed, unsentOf, watch } from "../offline/queue";

export type WashView = Schemas["WashView"];

/** A wash with its unsent taps on top, and the way to tap. It opens from this device's copy where the shop cannot be reached. */
export function useWash(id: string) {
  const queries = useQueryClient();
  const me = useMe().data?.id ?? "";
  const wash = useQuery({
    queryKey: ["wash", id],
    queryFn: async () => {
      const answer = askKept(
        washKey(id),
        () => timed(() => ask(client.GET("/washes/{id}", { params: { path: { id } } }))),
        (now, was) => withEvents(now, was.events),
      );
      const [fresh] = await Promise.all([answer, begin()]); // there is nothing to tap before the device can keep taps
      return withEvents(fresh, queries.getQueryData<WashView>(["wash", id])?.events ?? []);
    },
    refetchInterval: 30_000, // changes come by the live stream
  });
  const unsent = useSyncExternalStore(watch, () => unsentOf(id));
  const refused = useSyncExternalStore(watch, () => refusedOf(id));

  useEffect(() => {
    return onAnswer((of, sent, reply) => {
      if (of !== id) return;
      let whole = false;
      queries.setQueryData<WashView>(["wash", id], (view) => {
        if (!view) return view;
        const next = withEvents(view, sent);
        whole = !view.closed && next.events.length === reply.events && !sent.some((t) => t.kind === "finish" || t.kind === "undo");
        return next;
      });
      // Somebody else's taps are in the log too, or the times were kept: ask for all of it.
      if (!whole) void queries.invalidateQueries({ queryKey: ["wash", id] });
    });
  }, [id, queries]);

  const view = wash.data;
  const events = useMemo(() => (view ? [...view.events, ...unsent] : []), [view, unsent]);
  const state = useMemo(() => view && fold(view.steps, events), [view, events]);
  const undoes = useMemo(() => view && lastOf(me, undoable(view, events)), [me, view, events]);
  const tap = useCallback((...made: Made[]) => queue(id, ...made), [id]);
  const now = useCallback(() => clock.now(), []);
  return { wash, view, state, undoes, me, unsent, refused, trouble: lastTrouble(), tap, now };
}

/** What somebody may still take back: of a wash that is closed, what was tapped on rework. */
function undoable(view: WashView, events: WashView["events"]) {
  if (!view.closed) return events;
  const rework = new Set(view.steps.filter((s) => s.rework).map((s) => s.id));
  return events.filter((e) => e.kind === "undo" || rework.has(e.step ?? ""));
}

export type Tapping = ReturnType<typeof useWash>["tap"];
