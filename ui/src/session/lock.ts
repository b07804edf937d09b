import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { type Schemas } from "../api/client";
import { endLocked, remembersLocked } from "../api/locked";
import { become } from "../api/shop";

const touches = ["pointerdown", "keydown", "touchstart"] as const;

async function lock(queries: QueryClient) {
  remembersLocked(true); // before anything is asked: without a network the device still knows
  become(queries, null);
  await endLocked().catch(() => undefined); // it is asked again before anybody is shown anything
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
