import { useCallback, useEffect, useMemo, useSyncExternalStore } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type Schemas, ask, client } from "../api/client";
import { useMe } from "../api/shop";
import { askKept, washKey, withEvents } from "../offline/kept";
import { coreFailed, useCore } from "../core/core";
import { guess, guessLane, guessUndo } from "../core/guess";
import { useRest } from "./Rest";
import { begin, clock, lastTrouble, type Made, onAnswer, refusedOf, tap as queue, timed, unsentOf, watch } from "../offline/queue";
import { keys } from "../api/keys";

export type WashView = Schemas["WashView"];
export type State = Schemas["State"];

/** A wash with its unsent taps on top, and the way to tap. It opens from this device's copy where the shop cannot be reached. */
export function useWash(id: string) {
  const queries = useQueryClient();
  const me = useMe().data?.id ?? "";
  const wash = useQuery({
    queryKey: keys.wash(id),
    queryFn: async () => {
      const answer = askKept(
        washKey(id),
        () => timed(() => ask(client.GET("/washes/{id}", { params: { path: { id } } }))),
        (now, was) => withEvents(now, was.events),
      );
      const [fresh] = await Promise.all([answer, begin()]); // there is nothing to tap before the device can keep taps
      return withEvents(fresh, queries.getQueryData<WashView>(keys.wash(id))?.events ?? []);
    },
    refetchInterval: 30_000, // changes come by the live stream
  });
  const unsent = useSyncExternalStore(watch, () => unsentOf(id));
  const refused = useSyncExternalStore(watch, () => refusedOf(id));

  useEffect(() => {
    return onAnswer((of, sent, reply) => {
      if (of !== id) return;
      let whole = false;
      queries.setQueryData<WashView>(keys.wash(id), (view) => {
        if (!view) return view;
        const next = withEvents(view, sent);
        whole =
          !coreFailed() &&
          !view.closed &&
          next.events.length === reply.events &&
          !sent.some((t) => t.kind === "finish" || t.kind === "undo");
        return next;
      });
      // Somebody else's taps are in the log too, or the times were kept: ask for all of it.
      if (!whole) void queries.invalidateQueries({ queryKey: keys.wash(id) });
    });
  }, [id, queries]);

  const view = wash.data;
  const events = useMemo(() => (view ? [...view.events, ...unsent] : []), [view, unsent]);
  const rest = useRest(id, view?.events.length);
  const told = useTold(view, events, me, rest);
  const tap = useCallback((...made: Made[]) => queue(id, ...made), [id]);
  const now = useCallback(() => clock.now(), []);
  return { wash, view, ...told, me, unsent, refused, trouble: lastTrouble(), tap, now };
}

/** How the wash stands: by the core on this device, and by the simplest rule until it has answered. */
function useTold(view: WashView | undefined, events: WashView["events"], me: string, rest: Schemas["TimelineView"] | undefined) {
  const mine = Boolean(view?.mayTap && view.crew.some((p) => p.id === me));
  const plan = rest?.timeline.slots;
  const input = useMemo(
    () =>
      view && {
        steps: view.steps,
        events,
        closed: view.closed,
        me,
        whose: mine ? me : "", // whoever watches sees what the washers have in hand
        washer: view.washer.id,
        plan: plan?.map(({ step, start, who }) => ({ step, start, who })) ?? [],
      },
    [view, events, me, mine, plan],
  );
  const answer = useCore("bay", input);
  return useMemo(() => {
    if (!view) return { state: undefined, lane: undefined, undoes: undefined, whose: me };
    const known = answer?.of === input ? answer?.out : undefined;
    const state = known?.state ?? guess(answer?.out.state ?? view.state, events);
    const whose = mine ? me : (state.steps.find((s) => s.id === state.current)?.by ?? view.washer.id);
    const lane = known?.lane ?? guessLane(answer?.out.lane, state, whose);
    return { state, lane, whose, undoes: known ? known.undoes : view.closed ? undefined : guessUndo(me, events) };
  }, [view, answer, input, events, me, mine]);
}

export type Tapping = ReturnType<typeof useWash>["tap"];
