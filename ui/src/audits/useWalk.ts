import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { Problem, type Schemas, ask, client } from "../api/client";
import { keys } from "../api/keys";
import { useMe } from "../api/shop";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";
import { askKept, keep, recall } from "../offline/kept";
import { useResend } from "../offline/useResend";
import { auditCopy as copy, type KeptWalk } from "../offline/walks";
import { movePhotos } from "../photo/queue";

export type View = Schemas["AuditView"];
export type Answer = Schemas["Answer"];
export type Light = NonNullable<Schemas["AuditView"]["light"]>;

export type Refused = KeptWalk["refused"][number];

const without = (k: KeptWalk, key: "light" | "begun") =>
  Object.fromEntries(Object.entries(k).filter(([name]) => name !== key)) as unknown as KeptWalk;

const none: KeptWalk = { waiting: [], refused: [] };

/** An audit as it is walked: every answer is kept on this device at once and sent as soon as it can be. One that somebody else
 *  overtook is set aside with the reason; nothing is lost. */
export function useWalk(id: string) {
  const queries = useQueryClient();
  const go = useNavigate();
  const me = useMe().data?.id;
  const audit = useQuery({
    queryKey: keys.audit(id),
    queryFn: async () => {
      const begun = draftOf<KeptWalk>(copy(id))?.begun && (await recall<View>(copy(id)));
      return begun || askKept(copy(id), () => ask(client.GET("/audits/{id}", { params: { path: { id } } })));
    },
    refetchInterval: 10_000,
  });
  const [mine, setMine] = useState<KeptWalk>(() => draftOf<KeptWalk>(copy(id)) ?? none);
  const [trouble, setTrouble] = useState<Problem>();
  const sending = useRef(false);

  const now = useCallback(() => draftOf<KeptWalk>(copy(id)) ?? none, [id]);
  const hold = useCallback(
    (next: KeptWalk) => {
      if (next.waiting.length + next.refused.length > 0 || next.light || next.begun) keepDraft(copy(id), next);
      else dropDraft(copy(id));
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
    const owner = now().who;
    if (sending.current || !me || (owner !== undefined && owner !== me)) return;
    sending.current = true;
    try {
      for (let next = now(); next.begun || next.light || next.waiting.length > 0; next = now()) {
        const { begun, light, waiting } = next;
        const first = waiting[0];
        if (begun) {
          const query = { audit: id, checklist: begun.list, version: begun.version };
          const view = await ask(client.POST("/washes/{id}/audit", { params: { path: { id: begun.wash }, query } }));
          if (view.id !== id) {
            // Somebody else had begun by then: the answers go to that walk, and where both answered it is said.
            keepDraft(copy(view.id), without(now(), "begun"));
            dropDraft(copy(id));
            await movePhotos(id, view.id);
            await keep(copy(view.id), view);
            return void go(`/audits/${view.id}`, { replace: true });
          }
          hold(without(now(), "begun"));
          await told(view);
          continue;
        }
        if (light) {
          const view = await ask(client.PUT("/audits/{id}/light", { params: { path: { id } }, body: { light } }));
          await told(view);
          const later = now();
          hold(later.light === light ? without(later, "light") : later);
          continue;
        }
        if (!first) break;
        const away = (k: KeptWalk): KeptWalk => ({
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
          // Whoever insists does so on what stands there now, never on the copy that this device kept.
          await told(await ask(client.GET("/audits/{id}", { params: { path: { id } } })));
          const rest = away(now());
          hold({ ...rest, refused: [...rest.refused.filter((r) => r.item !== first.item), { ...first, says: e.message }] });
        }
      }
    } catch (e) {
      if (e instanceof Problem && !e.passing) {
        if (now().begun) setTrouble(e);
        else hold(without(now(), "light")); // a light that is refused: the audit is signed
      } // what is on its way goes with the next one
    } finally {
      sending.current = false;
    }
  }, [id, me, now, hold, queries, go]);
  useResend(send);

  const view = audit.data;
  const answer = (item: string, a: Answer) => {
    const before = now();
    const version = view?.answers[item]?.version ?? 0;
    hold({
      ...before,
      ...(me && { who: me }),
      waiting: [...before.waiting.filter((w) => w.item !== item), { item, version, answer: a }],
      refused: before.refused.filter((r) => r.item !== item),
    });
    void send();
  };
  const setLight = (light: Light) => {
    hold({ ...now(), ...(me && { who: me }), light });
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
    /** Begun here, and not known to the shop yet. */
    begun: mine.begun !== undefined,
    trouble,
    giveUp: () => {
      dropDraft(copy(id));
      void go("/audits");
    },
    refused: mine.refused,
    answer,
    setLight,
    letGo,
  };
}

export type Walking = ReturnType<typeof useWalk>;
