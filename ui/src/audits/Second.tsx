import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { Car } from "../car/Car";
import type { Zone } from "../car/shape";
import { Button, Head, Loading, Panel, Trouble } from "../kit/kit";
import { say } from "../kit/notice";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";
import { newId } from "../offline/ids";
import type { Answer, Light, View } from "./useWalk";
import { InHand, InWhichLight } from "./Walk";

interface Kept {
  id: string;
  light?: Light;
  answers: Record<string, Answer>;
}

const kept = (id: string) => `second ${id}`;

/** A signed audit walked again by somebody who does not see what was found: kept on this device, and sent whole at the end. */
export function Second() {
  const { id = "" } = useParams();
  const audit = useQuery({
    queryKey: keys.audit(id, "blind"),
    queryFn: () => ask(client.GET("/audits/{id}/second", { params: { path: { id } } })),
  });
  if (audit.isPending) return <Loading what="the audit" />;
  if (!audit.data) return <Trouble error={audit.error} retry={() => void audit.refetch()} />;
  return <Walked view={audit.data} />;
}

function Walked({ view }: { view: View }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const [mine, setMine] = useState<Kept>(() => draftOf<Kept>(kept(view.id)) ?? { id: newId(), answers: {} });
  const [zone, setZone] = useState<Zone | null>(null);
  const [opened, setOpened] = useState("");
  const hold = (next: Kept) => {
    keepDraft(kept(view.id), next);
    setMine(next);
  };
  const send = useMutation({
    mutationFn: (light: Light) => ask(client.POST("/audits/{id}/second", { params: { path: { id: view.id } }, body: { ...mine, light } })),
    onSuccess: () => {
      dropDraft(kept(view.id));
      stale(queries, keys.audits());
      say("Your look is kept beside the first.");
      void go("/audits/agreement");
    },
  });
  const items = view.checklist.items.filter((i) => view.result.open.includes(i.id) && !(i.light && mine.light === "dusk"));
  const item = items.find((i) => i.id === opened) ?? items.find((i) => !mine.answers[i.id]);
  const answer = (of: string, a: Answer) => {
    setOpened("");
    hold({ ...mine, answers: { ...mine.answers, [of]: a } });
  };
  const last = items.filter((i) => mine.answers[i.id]).at(-1);
  return (
    <>
      <Head title={`Again, blind: ${view.label}`} sub={`${view.plate} · ${view.checklist.title} · what the first found is not shown`} />
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_26rem]">
        <div className="grid content-start gap-3 lg:order-2">
          {!mine.light && <InWhichLight onPick={(light) => hold({ ...mine, light })} />}
          {item ? (
            <InHand key={item.id} item={item} view={view} answers={mine.answers} answer={answer} zone={zone} setZone={setZone} />
          ) : (
            <Panel title="All looked at">
              <Button
                look="act"
                className="min-h-16 text-lg"
                disabled={send.isPending || !mine.light}
                onClick={() => mine.light && send.mutate(mine.light)}
              >
                Send my look
              </Button>
            </Panel>
          )}
          {send.error && <Trouble error={send.error} />}
          {last && last.id !== item?.id && (
            <Button look="quiet" className="justify-self-start" onClick={() => (setZone(null), setOpened(last.id))}>
              Back to: {last.title}
            </Button>
          )}
        </div>
        <div className="rounded-2xl border border-line bg-paper p-3">
          <Car
            body={view.spec.body}
            selected={zone}
            {...(item && { onPick: setZone })}
            {...(item && view.zones[item.id]?.length && { lit: view.zones[item.id] as Zone[] })}
            className="mx-auto max-h-[26rem]"
          />
        </div>
      </div>
    </>
  );
}
