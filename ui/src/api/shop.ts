import { type QueryClient, useQuery } from "@tanstack/react-query";
import { askKept, forget, keep } from "../offline/kept";
import { signedIn } from "../offline/queue";
import { type Schemas, ask, client } from "./client";
import { keys } from "./keys";
import { endLocked, remembersLocked } from "./locked";

/** Reads that more than one section needs. */
export const useMe = () =>
  useQuery({
    queryKey: keys.me(),
    queryFn: async () => {
      await endLocked();
      return askKept("me", () => ask(client.GET("/session")));
    },
    staleTime: 60_000,
    retry: false,
  });

export type Right = Schemas["Right"];

/** What whoever is signed in may do: the server's table says (docs/rights.md), and refuses all else. */
export function useMay() {
  const rights = useMe().data?.rights as Right[] | undefined; // one kept by the version before has none
  return (right: Right) => rights?.includes(right) ?? false;
}

/** Whether somebody of the role runs the shop. */
export const leads = (role: Schemas["Role"]) => role === "lead" || role === "owner";

export const useWords = () =>
  useQuery({ queryKey: keys.words(), queryFn: () => askKept("words", () => ask(client.GET("/words"))), staleTime: Infinity });

export const usePeople = () => useQuery({ queryKey: keys.people(), queryFn: () => ask(client.GET("/people")), staleTime: 60_000 });

export const useYard = () =>
  useQuery({ queryKey: keys.yard(), queryFn: () => askKept("yard", () => ask(client.GET("/yard"))), refetchInterval: 60_000 }); // changes come by the live stream

export const useShelf = () => useQuery({ queryKey: keys.shelf(), queryFn: () => ask(client.GET("/shelf")), staleTime: 30_000 });

export const useSettings = () => useQuery({ queryKey: keys.settings(), queryFn: () => ask(client.GET("/settings")), staleTime: 60_000 });

/** Another person, or nobody: what the last one saw goes. */
export function become(queries: QueryClient, me: Schemas["Me"] | null) {
  if (me) remembersLocked(false);
  queries.removeQueries({ predicate: (q) => q.queryKey[0] !== "me" });
  void forget().then(() => me && keep("me", me));
  signedIn(me?.id ?? "");
  queries.setQueryData(keys.me(), me);
}
