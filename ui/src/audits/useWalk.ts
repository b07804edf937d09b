import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { Problem, type Schemas, ask, client } from "../api/client";
import { keys } from "../api/keys";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";
import { askKept, keep } from "../offline/kept";
import { useResend } from "../offline/useResend";

export type View = Schemas["AuditView"];
export type Answer = Schemas["Answer"];
export type Light = Schemas["AuditView"]["light"];

/** An answer on its way: the version that it was made from tells the server whether somebody else has answered since. */
interface Waiting {
  item: string;
  version: number;
  answer: Answer;
}

export interface Refused extends Waiting {
  says: string;
}

interface Kept {
  light?: Light;
  waiting: Waiting[];
  refused: Refused[];
}

const withoutLight = ({ waiting, refused }: Kept): Kept => ({ waiting, refused });

const none: Kept = { waiting: [], refused: [] };
const copy = (id: string) => `audit ${id}`;
const kept = (id: string) => `audit ${id}`;

/** An audit as it is walked: every answer is kept on this device at once and sent as soon as it can be. One that somebody else
 *  overtook is set aside with the reason; nothing is lost. */
export function useWalk(id: string) {
  const queries = useQueryClient();
  const audit = useQuery({
    queryKey: keys.audit(id),
    queryFn: () => askKept(copy(id), () => ask(client.GET("/audits/{id}", { params: { path: { id } } }))),
    refetchInterval: 10_000,
  });
  const [mine, setMine] = useState<Kept>(() => draftOf<Kept>(kept(id)) ?? none);
  const sending = useRef(false);

  const now = useCallback(() => draftOf<Kept>(kept(id)) ?? none, [id]);
  const hold = useCallback(
    (next: Kept) => {
      if (next.waiting.length + next.refused.length > 0 || next.light) keepDraft(kept(id), next);
      else dropDraft(kept(id));
      setMine(next);
    },
    [id],
  );
  const send = useCallback(async () => {
    // What was asked for before an answer arrived there knows nothing of it: it must not come after.
    const told = async (view: View) => {
      await queries.cancelQueries({ queryKey: keys.audit(id) });
      queries.setQueryData(keys.audit(id), view);
      void keep(copy(id), view); // what was sent is still there when the page is opened without a connection
    };
    if (sending.current) return;
    sending.current = true;
    try {
      for (let next = now(); next.light || next.waiting.length > 0; next = now()) {
        const { light, waiting } = next;
        const first = waiting[0];
        if (light) {
          const view = await ask(client.PUT("/audits/{id}/light", { params: { path: { id } }, body: { light } }));
          await told(view);
          const later = now();
          hold(later.light === light ? withoutLight(later) : later);
          continue;
        }
        if (!first) break;
        const away = (k: Kept): Kept => ({
          ...k,
          waiting: k.waiting.filter((w) => JSON.stringify(w) !== JSON.stringify(first)),
        });
        try {
          const params = { path: { id, item: first.item } };
          const body = { version: first.version, answer: first.answer };
          const view = await ask(client.PUT("/audits/{id}/items/{item}", { params, body }));
          await told(view);
          hold(away(now()));
        } catch (e) {
          if (!(e instanceof Problem) || e.passing) throw e;
          await queries.refetchQueries({ queryKey: keys.audit(id) }); // whoever insists does so on what stands there now
          const rest = away(now());
          hold({ ...rest, refused: [...rest.refused.filter((r) => r.item !== first.item), { ...first, says: e.message }] });
        }
      }
    } catch (e) {
      if (e instanceof Problem && !e.passing) {
        hold(withoutLight(now())); // a light that is refused: the audit is signed
      } // what is on its way goes with the next one
    } finally {
      sending.current = false;
    }
  }, [id, now, hold, queries]);
  useResend(send);

  const view = audit.data;
  const answer = (item: string, a: Answer) => {
    const before = now();
    const version = view?.answers[item]?.version ?? 0;
    hold({
      ...before,
      waiting: [...before.waiting.filter((w) => w.item !== item), { item, version, answer: a }],
      refused: before.refused.filter((r) => r.item !== item),
    });
    void send();
  };
  const setLight = (light: Light) => {
    hold({ ...now(), light });
    void send();
  };
  const letGo = (item: string) => {
    const before = now();
    hold({ ...before, refused: before.refused.filter((r) => r.item !== item) });
  };
  const answers: Record<string, Answer> = {};
  for (const [item, a] of Object.entries(view?.answers ?? {})) answers[item] = a.answer;
  for (const w of mine.waiting) answers[w.item] = w.answer;
  return {
    audit,
    answers,
    light: mine.light ?? view?.light ?? "",
    unsent: mine.waiting.length + (mine.light ? 1 : 0),
    refused: mine.refused,
    answer,
    setLight,
    letGo,
  };
}

export type Walking = ReturnType<typeof useWalk>;
