import { useMutation, useQueries, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { keepDraft } from "../offline/draft";
import { newId } from "../offline/ids";
import { auditCopy, begunHere, type KeptWalk } from "../offline/walks";
import { askKept, keep, recall } from "../offline/kept";
import { Problem, type Schemas, ask, client } from "./client";
import { keys, stale } from "./keys";
import { useMe, useWords } from "./shop";

type View = Schemas["AuditView"];

const startCopy = (wash: string) => `audit start ${wash}`;

/** Starts an audit, or goes on with the one under way; by the list for the wash, unless another is chosen. Without a connection it
 *  begins from what this device has kept, by the list for the wash, and the shop is told later. */
export function useStartAudit(checklist = "") {
  const queries = useQueryClient();
  const go = useNavigate();
  const me = useMe().data?.id;
  return useMutation({
    networkMode: "always",
    mutationFn: async (wash: string): Promise<View> => {
      const here = begunHere(wash);
      const mine = here && (await recall<View>(auditCopy(here)));
      if (mine) return mine;
      try {
        return await ask(client.POST("/washes/{id}/audit", { params: { path: { id: wash }, query: checklist ? { checklist } : {} } }));
      } catch (error) {
        const kept = error instanceof Problem && error.passing && !checklist ? await recall<View>(startCopy(wash)) : undefined;
        if (!kept) throw error;
        const view = { ...kept, id: newId() };
        const begun = { wash, list: kept.checklist.id, version: kept.checklist.version };
        keepDraft(auditCopy(view.id), { begun, ...(me && { who: me }), waiting: [], refused: [] } satisfies KeptWalk);
        return view;
      }
    },
    onSuccess: async (view) => {
      queries.setQueryData(keys.audit(view.id), view);
      await keep(auditCopy(view.id), view);
      stale(queries, keys.audits(), keys.yard());
      void go(`/audits/${view.id}`);
    },
  });
}

/** How many walks a device keeps ready to begin. */
const most = 8;

/** Keeps ready on this device what the walks of some washes would begin with. */
export function useStarts(washes: string[]) {
  useWords(); // what zones and findings are called is kept with them
  useQueries({
    queries: washes.slice(0, most).map((id) => ({
      queryKey: keys.audits("start", id),
      queryFn: () => askKept(startCopy(id), () => ask(client.GET("/washes/{id}/audit-start", { params: { path: { id } } }))),
      staleTime: 5 * 60_000,
    })),
  });
}
