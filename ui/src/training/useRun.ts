import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { compute, type DrillState } from "../core/core";
import { askKept, keep, recall } from "../offline/kept";

export type Action = Schemas["Action"];
type View = Schemas["RunView"];

/** Under what a drill is kept on the device. */
const runKey = (id: string) => `run ${id}`;

/** A drill and what is known of it; without a connection what the device kept. */
export const useRunView = (id: string) =>
  useQuery({
    queryKey: keys.runs(id),
    queryFn: () => askKept(runKey(id), () => ask(client.GET("/drill-runs/{id}", { params: { path: { id } } }))),
    staleTime: Infinity,
  });

interface Playing {
  actions: Action[];
  state?: DrillState | undefined;
  /** Why the last action could not be done. */
  refused: string;
}

/** Plays a drill on the device: every action is answered by the core here, kept here, and sent as soon as it can be. */
export function useRun(view: View) {
  const queries = useQueryClient();
  const [now, setNow] = useState<Playing>({ actions: view.actions, refused: "" });
  const version = useRef(view.version);
  const sending = useRef<Promise<void>>(Promise.resolve());
  const [unsent, setUnsent] = useState(false);

  // Every change waits for the one before: two quick strokes are two strokes.
  const live = useRef<Playing>(now);
  const turn = useRef<Promise<void>>(Promise.resolve());
  const inTurn = useCallback((act: (was: Playing) => Promise<Playing>) => {
    turn.current = turn.current.then(async () => {
      try {
        live.current = await act(live.current);
      } catch (e) {
        live.current = { ...live.current, refused: e instanceof Error ? e.message : String(e) };
      }
      setNow(live.current);
    });
    return turn.current;
  }, []);
  const replay = useCallback(
    (actions: Action[]) =>
      compute("drill", { drill: view.drill, actions }).then(({ state, refused }) => ({
        actions: actions.slice(0, state.said.length),
        state,
        refused: refused ?? "",
      })),
    [view.drill],
  );

  // What this device has kept and the server has not seen goes on from here.
  useEffect(() => {
    void inTurn(async () => {
      const kept = await recall<{ actions: Action[] }>(`${runKey(view.id)} played`);
      return replay(!view.result && kept && kept.actions.length > view.actions.length ? kept.actions : view.actions);
    });
  }, [view, replay, inTurn]);

  const send = (actions: Action[]) => {
    void keep(`${runKey(view.id)} played`, { actions });
    sending.current = sending.current.then(async () => {
      try {
        const saved = await ask(
          client.PUT("/drill-runs/{id}/actions", { params: { path: { id: view.id } }, body: { version: version.current, actions } }),
        );
        version.current = saved.version;
        setUnsent(false);
      } catch {
        setUnsent(true); // kept here; it goes with the next one
      }
    });
  };

  const play = (action: Action) =>
    inTurn(async (was) => {
      if (!was.state) return was;
      const { state, refused } = await compute("drill", { drill: view.drill, state: was.state, actions: [action] });
      if (refused) return { ...was, refused };
      const actions = [...was.actions, action];
      send(actions);
      return { actions, state, refused: "" };
    });

  const undo = () =>
    inTurn(async (was) => {
      const next = await replay(was.actions.slice(0, -1));
      send(next.actions);
      return next;
    });

  const finish = useMutation({
    mutationFn: async () => {
      await turn.current;
      await sending.current;
      if (unsent) send(live.current.actions);
      await sending.current;
      return ask(client.POST("/drill-runs/{id}/finish", { params: { path: { id: view.id } } }));
    },
    onSuccess: (done) => {
      queries.setQueryData(keys.runs(view.id), done);
      stale(queries, keys.runs("list"));
    },
  });
  return { ...now, play, undo, finish, unsent };
}
