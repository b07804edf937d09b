import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { useMe, usePeople, useWords } from "../api/shop";
import { Entry, LinesField, PickField, TextField, useEntry } from "../kit/form";
import { dateOf, momentOf, sentence } from "../kit/format";
import { Button, Head, LinkButton, Loading, Panel, Trouble } from "../kit/kit";
import { newId } from "../offline/ids";

type Remedy = Schemas["AuditRemedy"];
type Pattern = Schemas["Pattern"];

const inDays = (n: number) => new Date(Date.now() + n * 24 * 3600_000);
/** By when something is usually done, days: one week's round and one to try it (model). */
const usualDays = 14;

/** Takes a pattern of findings up: what is thought to be behind it is proposed, and stays a guess until the audits have told. */
export function NewRemedy() {
  const [asked] = useSearchParams();
  const go = useNavigate();
  const me = useMe().data;
  const query = Object.fromEntries(asked) as { weeks?: string };
  const proposal = useQuery({
    queryKey: keys.audits("proposal", query),
    queryFn: () => ask(client.GET("/remedy-proposal", { params: { query: { ...query, weeks: Number(query.weeks ?? 8) } } })),
    staleTime: Infinity,
  });
  if (proposal.isPending || !me) return <Loading what="what may be done" />;
  if (!proposal.data) return <Trouble error={proposal.error} retry={() => void proposal.refetch()} />;
  const p = proposal.data;
  const pattern = Object.fromEntries([...asked].filter(([k]) => k !== "weeks")) as Pattern;
  const start: Remedy = {
    title: p.title,
    pattern: p.act === "change a step" && p.procedure ? { ...pattern, procedure: p.procedure } : pattern,
    cause: p.causes[0] ?? "",
    act: p.act,
    ...(p.step && { step: p.step }),
    owner: me.id,
    due: inDays(usualDays).toISOString(),
  };
  return (
    <>
      <Head title="Take it up" sub={p.title}>
        <LinkButton to="/audits/findings">Findings</LinkButton>
      </Head>
      <div className="grid max-w-3xl gap-4">
        <Panel title="What may be behind it">
          <ul className="grid list-disc gap-1 pl-5">
            {p.causes.map((c, i) => (
              <li key={c}>
                {sentence(c)}
                <span className="text-faded">{i === 0 ? " · usual in the trade; a guess here" : " · from these audits"}</span>
              </li>
            ))}
          </ul>
        </Panel>
        <Panel title="What is done about it">
          <RemedyForm
            start={start}
            {...(p.procedure && p.step && { step: { procedure: p.procedure, id: p.step, name: p.stepName ?? p.step } })}
            done={() => void go("/audits/remedies")}
          />
        </Panel>
      </div>
    </>
  );
}

/** A new remedy, or one that is changed. */
export function RemedyForm({
  start,
  id,
  version,
  step,
  done,
}: {
  start: Remedy;
  id?: string;
  version?: number;
  /** The step that most of the findings go back to. */
  step?: { procedure: string; id: string; name: string };
  done: () => void;
}) {
  const queries = useQueryClient();
  const people = (usePeople().data ?? []).map((p) => ({ value: p.id, label: p.name }));
  const acts = useWords().data?.lists.remedies ?? [start.act];
  const [made] = useState(() => id ?? newId());
  const of = useEntry({
    start: { title: start.title, cause: start.cause, act: start.act, owner: start.owner, due: dateOf(start.due), note: start.note ?? "" },
    save: (v) => {
      const stepped = v.act === "change a step" && step ? { step: step.id, pattern: { ...start.pattern, procedure: step.procedure } } : {};
      const { note, due, ...rest } = v;
      const remedy: Remedy = { ...start, ...rest, ...stepped, due: momentOf(due, "18:00").toISOString(), ...(note && { note }) };
      if (version) return ask(client.PUT("/remedies/{id}", { params: { path: { id: made } }, body: { version, remedy } }));
      return ask(client.POST("/remedies", { body: { id: made, remedy } }));
    },
    said: "Taken up.",
    onSaved: (now) => {
      queries.setQueryData(keys.audits("remedies"), now);
      stale(queries, keys.audits("remedies"));
      done();
    },
  });
  const act = of.form.watch("act");
  return (
    <Entry of={of} act={version ? "Save" : "Take it up"} {...(version && { more: <Button onClick={done}>Close</Button> })}>
      <TextField form={of.form} name="title" label="What is to get better" rules={{ required: "say it in a few words" }} maxLength={120} />
      <LinesField
        form={of.form}
        name="cause"
        label="What you think is behind it"
        rules={{ required: "say what you think; the audits will tell" }}
        rows={2}
        maxLength={300}
      />
      <div className="grid gap-3 sm:grid-cols-2">
        <PickField form={of.form} name="act" label="What is done" options={acts.map((a) => ({ value: a, label: sentence(a) }))} />
        <PickField form={of.form} name="owner" label="Who sees to it" options={people} />
      </div>
      {act === "change a step" && (step ?? start.step) && (
        <p>
          The step that most of these findings go back to{step && ": "}
          {step && <b>{step.name}</b>}. The version that you publish links back here, and the audits after it tell.
        </p>
      )}
      <div className="grid gap-3 sm:grid-cols-2">
        <TextField form={of.form} name="due" label="By when" type="date" rules={{ required: "say by when" }} />
      </div>
      <LinesField form={of.form} name="note" label="Note" rows={2} maxLength={1000} />
    </Entry>
  );
}
