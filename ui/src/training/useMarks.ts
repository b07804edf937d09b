import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { Problem, type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";
import { newId } from "../offline/ids";
import { askKept } from "../offline/kept";
import { useResend } from "../offline/useResend";

export type Mark = Schemas["WatchMark"];

const kept = (id: string) => `marks ${id}`;

/** A wash as it is watched: every mark is kept on this device at once and sent as soon as it can be; its id is made here, so
 *  that sending twice does nothing. */
export function useMarks(id: string) {
  const queries = useQueryClient();
  const view = useQuery({
    queryKey: keys.watched(id),
    queryFn: () => askKept(`watch ${id}`, () => ask(client.GET("/washes/{id}/watch", { params: { path: { id } } }))),
    refetchInterval: 15_000,
  });
  const [waiting, setWaiting] = useState<Mark[]>(() => draftOf<Mark[]>(kept(id)) ?? []);
  const [refused, setRefused] = useState<unknown>();
  const sending = useRef(false);

  const hold = useCallback(
    (marks: Mark[]) => {
      if (marks.length > 0) keepDraft(kept(id), marks);
      else dropDraft(kept(id));
      setWaiting(marks);
    },
    [id],
  );
  const send = useCallback(async () => {
    const marks = draftOf<Mark[]>(kept(id)) ?? [];
    if (sending.current || marks.length === 0) return;
    sending.current = true;
    try {
      const seen = await ask(client.POST("/washes/{id}/watch", { params: { path: { id } }, body: { marks } }));
      await queries.cancelQueries({ queryKey: keys.watched(id) }); // what was asked for before knows nothing of it
      queries.setQueryData(keys.watched(id), seen);
      const sent = new Set(marks.map((m) => m.id));
      hold((draftOf<Mark[]>(kept(id)) ?? []).filter((m) => !sent.has(m.id)));
      stale(queries, keys.training());
    } catch (e) {
      if (!(e instanceof Problem) || !e.passing) setRefused(e); // what is only on its way goes with the next one
    } finally {
      sending.current = false;
    }
  }, [id, queries, hold]);
  useResend(send);

  const fetched = view.dataUpdatedAt;
  const now = view.data?.now;
  const add = (mark: Omit<Mark, "id" | "at">) => {
    const at = new Date((now ? new Date(now).getTime() : Date.now()) + Date.now() - fetched);
    hold([...(draftOf<Mark[]>(kept(id)) ?? []), { ...mark, id: newId(), at: at.toISOString() }]);
    void send();
  };
  const discard = () => {
    hold([]);
    setRefused(undefined);
  };
  return { view, marks: [...(view.data?.marks ?? []), ...waiting], unsent: waiting.length, refused, add, discard };
}
