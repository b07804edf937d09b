import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { ask, client } from "./client";
import { keys, stale } from "./keys";

/** Starts an audit, or goes on with the one under way; by the list for the wash, unless another is chosen. */
export function useStartAudit(checklist = "") {
  const queries = useQueryClient();
  const go = useNavigate();
  return useMutation({
    mutationFn: (wash: string) =>
      ask(client.POST("/washes/{id}/audit", { params: { path: { id: wash }, query: checklist ? { checklist } : {} } })),
    onSuccess: (view) => {
      queries.setQueryData(keys.audit(view.id), view);
      stale(queries, keys.audits(), keys.yard());
      void go(`/audits/${view.id}`);
    },
  });
}
