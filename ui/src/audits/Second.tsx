import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useParams } from "react-router";
import { ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { Loading, Trouble } from "../kit/kit";
import { say } from "../kit/notice";
import { BlindWalk } from "./BlindWalk";

/** A signed audit walked again by somebody who does not see what was found. */
export function Second() {
  const { id = "" } = useParams();
  const queries = useQueryClient();
  const go = useNavigate();
  const audit = useQuery({
    queryKey: keys.audit(id, "blind"),
    queryFn: () => ask(client.GET("/audits/{id}/second", { params: { path: { id } } })),
  });
  if (audit.isPending) return <Loading what="the audit" />;
  if (!audit.data) return <Trouble error={audit.error} retry={() => void audit.refetch()} />;
  const view = audit.data;
  return (
    <BlindWalk
      view={view}
      title={`Again, blind: ${view.label}`}
      sub={`${view.plate} · ${view.checklist.title} · what the first found is not shown`}
      kept={`second ${id}`}
      send={(body) => ask(client.POST("/audits/{id}/second", { params: { path: { id } }, body }))}
      sent={() => {
        stale(queries, keys.audits());
        say("Your look is kept beside the first.");
        void go("/audits/agreement");
      }}
    />
  );
}
