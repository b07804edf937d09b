import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { Problem, type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";
import { useResend } from "../offline/useResend";

type Given = Schemas["Given"];

/** An answer that waits for a connection. */
interface Waiting {
  id: string;
  title: string;
  given: Given;
}

/** An answer that was given without a connection, and what came of it. */
export interface Late {
  id: string;
  title: string;
  judged: Schemas["CaseJudged"];
}

const kept = "case answers";

/** Answers that could not be sent: kept on this device, sent as soon as there is a connection, and told then. */
export function useAnswers() {
  const queries = useQueryClient();
  const [waiting, setWaiting] = useState<Waiting[]>(() => draftOf<Waiting[]>(kept) ?? []);
  const [late, setLate] = useState<Late[]>([]);
  const sending = useRef(false);

  const hold = useCallback((all: Waiting[]) => {
    if (all.length > 0) keepDraft(kept, all);
    else dropDraft(kept);
    setWaiting(all);
  }, []);
  const send = useCallback(async () => {
    if (sending.current) return;
    sending.current = true;
    try {
      for (let next = (draftOf<Waiting[]>(kept) ?? [])[0]; next; next = (draftOf<Waiting[]>(kept) ?? [])[0]) {
        const { id, title, given } = next;
        try {
          const judged = await ask(client.POST("/cases/{id}/answer", { params: { path: { id } }, body: given }));
          setLate((was) => [...was, { id, title, judged }]);
        } catch (e) {
          if (!(e instanceof Problem) || e.passing) return; // still no connection
        } // what the server refuses was answered on another device already
        hold((draftOf<Waiting[]>(kept) ?? []).filter((w) => w.id !== id));
        stale(queries, keys.cases("records"));
      }
    } finally {
      sending.current = false;
    }
  }, [queries, hold]);
  useResend(send);
  const later = (w: Waiting) => hold([...(draftOf<Waiting[]>(kept) ?? []), w]);
  return { waiting, late, later };
}
