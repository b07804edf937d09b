import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { ask, client, type Schemas } from "../api/client";
import { become } from "../api/shop";

const touches = ["pointerdown", "keydown", "touchstart"] as const;

async function lock(queries: QueryClient) {
  try {
    await ask(client.DELETE("/session"));
  } finally {
    become(queries, null); // also without a network: the screen shows nothing more
  }
}

/** Locks a shared tablet once nobody has touched it for so long. The page stays: whoever comes next goes on where they were. */
export function useLock(me: Schemas["Me"] | null | undefined) {
  const queries = useQueryClient();
  const after = me?.shared ? (me.lock ?? 10) * 60_000 : 0;
  useEffect(() => {
    if (after === 0) return;
    let timer = setTimeout(() => void lock(queries), after);
    const touched = () => {
      clearTimeout(timer);
      timer = setTimeout(() => void lock(queries), after);
    };
    for (const t of touches) window.addEventListener(t, touched, { passive: true });
    return () => {
      clearTimeout(timer);
      for (const t of touches) window.removeEventListener(t, touched);
    };
  }, [after, queries]);
  return () => void lock(queries);
}
