import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { useMay } from "../api/shop";
import { day, plural } from "../kit/format";
import { Button, Head, LinkButton, Loading, Panel, Select, Tag, Trouble } from "../kit/kit";
import { particulars } from "./words";
import { keys } from "../api/keys";

type View = Schemas["ProcedureView"];

/** A published procedure: what it says, its versions and what changed between them. */
export function ProcedurePage() {
  const { id = "" } = useParams();
  const view = useQuery({
    queryKey: keys.procedure(id),
    queryFn: () => ask(client.GET("/procedures/{id}", { params: { path: { id } } })),
  });
  if (view.isPending) return <Loading what="the procedure" />;
  if (!view.data) return <Trouble error={view.error} retry={() => void view.refetch()} />;
  return <Sheet view={view.data} />;
}

function Sheet({ view }: { view: View }) {
  const lead = useMay()("write procedures");
  const p = view.published;
  const newest = view.versions[0];
  return (
    <>
      <Head
        title={p?.title ?? view.draft?.procedure.title ?? view.id}
        sub={
          <>
            {p ? `Version ${newest?.version}. ${p.fits}` : "Not published yet."} {newest?.retired && <Tag>Retired</Tag>}
          </>
        }
      >
        {p && (
          <>
            <LinkButton to={`/procedures/${view.id}/print`}>Print</LinkButton>
            <a
              className="inline-flex min-h-hit items-center rounded-xl border-2 border-line bg-paper px-4 font-semibold hover:border-ink"
              href={`/api/procedures/${view.id}/export`}
            >
              Save as JSON
            </a>
            <a
              className="inline-flex min-h-hit items-center rounded-xl border-2 border-line bg-paper px-4 font-semibold hover:border-ink"
              href={`/api/procedures/${view.id}/export?format=markdown`}
            >
              Markdown
            </a>
          </>
        )}
        {lead && <Change view={view} />}
      </Head>
      <div className="grid gap-4 xl:grid-cols-[minmax(0,1fr)_24rem]">
        {p ? (
          <Panel>
            <h2>Only where</h2>
            <ul className="mb-3 list-disc pl-5">
              {p.entry.map((e, i) => (
                <li key={i}>
                  {view.entry[i]}. <span className="text-faded">Else: {e.refusal}</span>
                </li>
              ))}
            </ul>
            {p.stages
              .filter((stage) => stage.steps.length > 0)
              .map((stage) => (
                <section key={stage.id} className="border-t border-line py-2">
                  <h3 className="mb-1 font-bold">{stage.title}</h3>
                  <ol className="grid gap-2">
                    {stage.steps.map((s) => (
                      <li key={s.id} className="grid gap-x-4 md:grid-cols-[14rem_1fr]">
                        <div>
                          <b>{s.title}</b>
                          {view.when[s.id] && (
                            <p className="mt-0.5 text-sm">
                              <Tag tone="tide">if</Tag> {view.when[s.id]}
                            </p>
                          )}
                        </div>
                        <div>
                          <p>{s.text}</p>
                          <p className="text-sm text-faded">
                            {s.reason} {particulars(s)}
                          </p>
                        </div>
                      </li>
                    ))}
                  </ol>
                </section>
              ))}
          </Panel>
        ) : (
          <Panel>
            <p>There is only a draft of it. Go on writing it, then publish.</p>
          </Panel>
        )}
        <div className="grid content-start gap-4">
          <Versions view={view} lead={lead} />
        </div>
      </div>
    </>
  );
}

/** Writing, copying, retiring. */
function Change({ view }: { view: View }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const done = (v: View) => {
    queries.setQueryData(keys.procedure(v.id), v);
    void queries.invalidateQueries({ queryKey: keys.procedures() });
  };
  const begin = useMutation({
    mutationFn: (copy: boolean) =>
      ask(
        client.POST("/procedures", {
          body: copy
            ? { id: `${view.id}-copy`, title: `${view.published?.title ?? ""} (copy)`, from: view.id }
            : { id: view.id, from: view.id },
        }),
      ),
    onSuccess: (v) => {
      done(v);
      void go(`/procedures/${v.id}/write`);
    },
  });
  const retired = view.versions[0]?.retired ?? false;
  const retire = useMutation({
    mutationFn: () => ask(client.POST("/procedures/{id}/retire", { params: { path: { id: view.id } }, body: { retired: !retired } })),
    onSuccess: done,
  });
  return (
    <>
      {view.published && <Button onClick={() => retire.mutate()}>{retired ? "Bring back" : "Retire"}</Button>}
      {view.published && <Button onClick={() => begin.mutate(true)}>Copy</Button>}
      {view.draft ? (
        <LinkButton look="act" to={`/procedures/${view.id}/write`}>
          Go on writing
        </LinkButton>
      ) : (
        <Button look="act" disabled={begin.isPending} onClick={() => begin.mutate(false)}>
          Write a new version
        </Button>
      )}
      {(begin.error ?? retire.error) && <Trouble error={begin.error ?? retire.error} />}
    </>
  );
}

function Versions({ view, lead }: { view: View; lead: boolean }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const newest = view.versions[0]?.version ?? 0;
  const [from, setFrom] = useState(String(view.versions[1]?.version ?? newest));
  const [to, setTo] = useState(view.draft ? "0" : String(newest));
  const named = [
    ...(view.draft ? [{ value: "0", label: "the draft" }] : []),
    ...view.versions.map((v) => ({ value: String(v.version), label: `version ${v.version}` })),
  ];
  const edits = useQuery({
    queryKey: keys.difference(view.id, from, to, view.draft?.revision),
    queryFn: () =>
      ask(client.GET("/procedures/{id}/difference", { params: { path: { id: view.id }, query: { from: Number(from), to: Number(to) } } })),
    enabled: from !== to,
  });
  const restore = useMutation({
    mutationFn: (version: number) => ask(client.POST("/procedures", { body: { id: view.id, from: view.id, version } })),
    onSuccess: (v) => {
      queries.setQueryData(keys.procedure(v.id), v);
      void go(`/procedures/${v.id}/write`);
    },
  });
  return (
    <Panel title="Versions">
      <ol className="grid gap-2">
        {view.versions.map((v) => (
          <li key={v.version} className="border-l-4 border-line pl-3">
            <p>
              <b>Version {v.version}</b>, {day(v.publishedAt)}
              {v.by && `, ${v.by}`}
            </p>
            <p>{v.note}</p>
            <p className="flex items-center gap-3 text-sm text-faded">
              {plural(v.washes, "wash", "washes")} ran it.
              {lead && !view.draft && v.version !== newest && (
                <Button look="quiet" className="min-h-8 px-0!" onClick={() => restore.mutate(v.version)}>
                  Write from this one
                </Button>
              )}
            </p>
          </li>
        ))}
      </ol>
      {restore.error && <Trouble error={restore.error} />}
      {named.length > 1 && (
        <>
          <h3 className="mt-4 mb-1 font-bold">What changed</h3>
          <div className="grid grid-cols-2 gap-2">
            <Select label="From" value={from} onChange={setFrom} options={named} />
            <Select label="To" value={to} onChange={setTo} options={named} />
          </div>
          <Edits edits={edits.data ?? []} same={from === to || edits.data?.length === 0} />
        </>
      )}
    </Panel>
  );
}

const editTone = { added: "moss", removed: "rust", moved: "tide", changed: "plain" } as const;

export function Edits({ edits, same }: { edits: Schemas["Edit"][]; same: boolean }) {
  if (same) return <p className="mt-2 text-faded">Nothing.</p>;
  return (
    <ul className="mt-2 grid gap-1.5">
      {edits.map((e, i) => (
        <li key={i} className="text-sm">
          <Tag tone={editTone[e.kind]}>{e.kind}</Tag> {e.words ? <Marked what={e.what ?? ""} words={e.words} /> : e.says}
        </li>
      ))}
    </ul>
  );
}

const wordLook = { kept: "", gone: "bg-rust-wash text-rust line-through", new: "bg-moss-wash font-semibold text-moss underline" } as const;

/** A text that changed, its words marked. */
function Marked({ what, words }: { what: string; words: Schemas["WordSpan"][] }) {
  const tag = { kept: "span", gone: "del", new: "ins" } as const;
  return (
    <>
      {what}:{" "}
      {words.map((w, i) => {
        const Word = tag[w.kind];
        return (
          <span key={i}>
            <Word className={wordLook[w.kind]}>{w.text}</Word>{" "}
          </span>
        );
      })}
    </>
  );
}
