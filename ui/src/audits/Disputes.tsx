import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { useMay, useMe } from "../api/shop";
import { day, hour, plural } from "../kit/format";
import { Button, Field, inputLook, LinkButton, Panel, Tag, Trouble } from "../kit/kit";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";
import { newId } from "../offline/ids";
import type { View } from "./useWalk";

type Dispute = Schemas["DisputeView"];

/** What whoever washed says against findings of a signed audit, and how a lead settles it. What was signed stays as it is. */
export function Disputes({ view }: { view: View }) {
  const disputes = view.disputes ?? [];
  const disputable = view.disputable ?? [];
  if (disputes.length + disputable.length === 0) return null;
  const title = (id: string) => view.checklist.items.find((i) => i.id === id)?.title ?? id;
  return (
    <Panel title="Disputed">
      {view.settled && (
        <p className="mb-3">
          With what was settled for whoever washed: <b className="num">{view.settled.score}</b>, {view.settled.passed ? "passed" : "failed"}
          . It counts so in every table; what was signed stays.
        </p>
      )}
      <ul className="grid gap-3">
        {disputes.map((d) => (
          <li key={d.id} className="grid gap-2 border-l-4 border-line pl-3">
            <p>
              <b>{title(d.item)}</b>: “{d.note}” {d.by.name}, {day(d.at)}, {hour(d.at)}
            </p>
            {d.settler ? (
              <p>
                <Tag tone={d.upheld ? "moss" : "plain"}>{d.upheld ? "Does not count" : "The finding stands"}</Tag> “{d.answer}”{" "}
                {d.settler.name}
              </p>
            ) : (
              <Settle view={view} dispute={d} />
            )}
          </li>
        ))}
        {disputable.map((item) => (
          <li key={item}>
            <Raise view={view} item={item} title={title(item)} />
          </li>
        ))}
      </ul>
    </Panel>
  );
}

const kept = (view: View, item: string) => `dispute ${view.id} ${item}`;

function Raise({ view, item, title }: { view: View; item: string; title: string }) {
  const queries = useQueryClient();
  const [draft, setDraft] = useState(() => draftOf<{ id: string; note: string }>(kept(view, item)));
  const send = useMutation({
    mutationFn: (d: { id: string; note: string }) =>
      ask(client.POST("/audits/{id}/disputes", { params: { path: { id: view.id } }, body: { ...d, item } })),
    onSuccess: (now) => {
      dropDraft(kept(view, item));
      queries.setQueryData(keys.audit(view.id), now);
      stale(queries, keys.disputes());
    },
    meta: { said: "Your lead will settle it." },
  });
  if (!draft)
    return (
      <Button className="min-h-14" onClick={() => setDraft({ id: newId(), note: "" })}>
        Dispute: {title}
      </Button>
    );
  const write = (note: string) => {
    const next = { ...draft, note };
    keepDraft(kept(view, item), next);
    setDraft(next);
  };
  return (
    <form
      className="grid gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (draft.note.trim()) send.mutate(draft);
      }}
    >
      <Field label={`What speaks against the finding at ${title}`}>
        <textarea className={`${inputLook} py-2`} rows={2} maxLength={500} value={draft.note} onChange={(e) => write(e.target.value)} />
      </Field>
      {send.error && <Trouble error={send.error} />}
      <Button look="act" className="min-h-14" type="submit" disabled={send.isPending || !draft.note.trim()}>
        Send it to the lead
      </Button>
    </form>
  );
}

function Settle({ view, dispute }: { view: View; dispute: Dispute }) {
  const queries = useQueryClient();
  const may = useMay()("correct");
  const me = useMe().data;
  const [answer, setAnswer] = useState("");
  const settle = useMutation({
    mutationFn: (upheld: boolean) =>
      ask(client.POST("/disputes/{id}/settle", { params: { path: { id: dispute.id } }, body: { upheld, answer } })),
    onSuccess: (now) => {
      queries.setQueryData(keys.audit(view.id), now);
      stale(queries, keys.disputes(), keys.audits());
    },
    meta: { said: "Settled" },
  });
  if (!may || me?.id === dispute.by.id) return <p className="text-faded">Waits for a lead to settle it.</p>;
  return (
    <div className="grid gap-2">
      <Field label="Why, to whoever washed">
        <input className={inputLook} value={answer} maxLength={500} onChange={(e) => setAnswer(e.target.value)} />
      </Field>
      <div className="flex flex-wrap gap-2">
        <Button disabled={settle.isPending || !answer.trim()} onClick={() => settle.mutate(false)}>
          The finding stands
        </Button>
        <Button disabled={settle.isPending || !answer.trim()} onClick={() => settle.mutate(true)}>
          It does not count
        </Button>
      </div>
      {settle.error && <Trouble error={settle.error} />}
    </div>
  );
}

/** What waits to be settled; one's own for whoever does not lead. */
export function OpenDisputes() {
  const open = useQuery({ queryKey: keys.disputes(), queryFn: () => ask(client.GET("/disputes")) }).data ?? [];
  if (open.length === 0) return null;
  return (
    <Panel className="mb-4" title={`${plural(open.length, "dispute")} to settle`}>
      <ul className="grid gap-2">
        {open.map((d) => (
          <li key={d.auditId + d.at} className="flex flex-wrap items-center justify-between gap-2">
            <span>
              <b>{d.label}</b> <span className="num">{d.plate}</span>: “{d.note}” {d.by}
            </span>
            <LinkButton to={`/audits/${d.auditId}`}>{d.own ? "See it" : "Settle it"}</LinkButton>
          </li>
        ))}
      </ul>
    </Panel>
  );
}
