import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { AlertTriangle } from "lucide-react";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { useMay } from "../api/shop";
import { day, plural } from "../kit/format";
import { Button, Field, Head, inputLook, LinkButton, Loading, Panel, Tag, Trouble } from "../kit/kit";
import { keepDraft } from "../offline/draft";
import { newId } from "../offline/ids";
import { draftKey } from "./useListDraft";

type View = Schemas["ChecklistView"];

/** The shop's checklists: what each is for, how long the walk is, and what an old hand would doubt about it. */
export function Lists() {
  const lists = useQuery({ queryKey: keys.checklists(), queryFn: () => ask(client.GET("/checklists")) });
  const may = useMay();
  if (lists.isPending) return <Loading what="the checklists" />;
  if (!lists.data) return <Trouble error={lists.error} retry={() => void lists.refetch()} />;
  return (
    <>
      <Head title="Checklists" sub="Shared by everybody in the shop. An audit keeps the version that it was walked by.">
        <LinkButton to="/audits">Audits</LinkButton>
      </Head>
      <div className="grid gap-4 lg:grid-cols-2">
        {lists.data.map((v) => (
          <List key={v.list.id} v={v} writes={may("write procedures")} />
        ))}
        {may("write procedures") && <Begin taken={lists.data.map((v) => v.list.id)} />}
      </div>
    </>
  );
}

function List({ v, writes }: { v: View; writes: boolean }) {
  const queries = useQueryClient();
  const use = useMutation({
    meta: { said: "The list is in use." },
    mutationFn: () =>
      ask(client.PUT("/checklists/{id}", { params: { path: { id: v.list.id } }, body: { version: v.list.version, list: v.list } })),
    onSuccess: () => stale(queries, keys.checklists(), keys.checklist()),
  });
  return (
    <Panel
      title={v.list.title}
      aside={v.inUse ? <Tag tone={v.list.onRequest ? "plain" : "moss"}>{`Version ${v.list.version}`}</Tag> : <Tag>not in use</Tag>}
    >
      {v.list.about && <p>{v.list.about}</p>}
      <p className="mt-1 text-sm text-faded">
        {`${forWhom(v.list)}. ${plural(v.list.items.length, "look")}; ${Math.round(v.way.metres)} m to walk.`}
        {v.at && ` Published ${day(v.at)}${v.by ? ` by ${v.by}` : ""}.`}
      </p>
      <Doubts doubts={v.doubts} />
      <div className="mt-3 flex flex-wrap gap-2">
        {v.inUse && <LinkButton to={`/audits/lists/${v.list.id}/print`}>Print</LinkButton>}
        <LinkButton to={`/audits/lists/${v.list.id}`}>{writes ? "Read and write" : "Read"}</LinkButton>
        {!v.inUse && writes && (
          <Button disabled={use.isPending} onClick={() => use.mutate()}>
            Use it
          </Button>
        )}
      </div>
      {use.error && <Trouble error={use.error} />}
    </Panel>
  );
}

/** What an old hand would say of a list. */
export function Doubts({ doubts }: { doubts: Schemas["Doubt"][] }) {
  if (doubts.length === 0) return null;
  return (
    <ul className="mt-2 grid gap-1 text-sm">
      {doubts.map((d) => (
        <li key={d.says} className="flex gap-2">
          <AlertTriangle size={16} className="mt-0.5 shrink-0 text-amber-ink" aria-label="Worth another look" />
          {d.says}
        </li>
      ))}
    </ul>
  );
}

function forWhom(list: Schemas["Checklist"]) {
  if (list.at) return `On the way, ${list.at}`;
  if (list.onRequest) return "Taken when an auditor chooses it";
  if ((list.families ?? []).length > 0) return `For method ${list.families?.join(", ")}`;
  return Object.keys(list.when).length > 0 ? "For the washes that its condition names" : "For every wash that no other list is for";
}

/** A new list: blank, or read from a file. */
function Begin({ taken }: { taken: string[] }) {
  const go = useNavigate();
  const file = useRef<HTMLInputElement>(null);
  const [title, setTitle] = useState("");
  const [refused, setRefused] = useState<unknown>();
  const begin = (list: Schemas["Checklist"]) => {
    const wanted = list.id || "list";
    const id = taken.includes(wanted) ? `${wanted.slice(0, 30)}-${newId().slice(0, 6)}` : wanted;
    keepDraft(draftKey(id), { ...list, id, version: 0 });
    void go(`/audits/lists/${id}`);
  };
  const read = async (chosen: File) => {
    try {
      const list = JSON.parse(await chosen.text()) as Schemas["Checklist"];
      const tried = await ask(client.POST("/checklists-tried", { body: list }));
      begin(tried.list);
    } catch (e) {
      setRefused(e instanceof SyntaxError ? new Error("That file is not a checklist document: JSON is expected.") : e);
    }
  };
  return (
    <Panel title="A new list">
      <form
        className="grid gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          const id = title
            .toLowerCase()
            .replace(/[^a-z0-9]+/g, "-")
            .replace(/^-|-$/g, "")
            .slice(0, 40);
          if (id) begin({ id, version: 0, title: title.trim(), when: {}, items: [] });
        }}
      >
        <Field label="Its title">
          <input className={inputLook} value={title} maxLength={80} onChange={(e) => setTitle(e.target.value)} />
        </Field>
        <div className="flex flex-wrap gap-2">
          <Button type="submit">Begin a blank list</Button>
          <Button onClick={() => file.current?.click()}>Import a file</Button>
        </div>
        <input
          ref={file}
          type="file"
          accept="application/json,.json"
          aria-label="Checklist document"
          className="sr-only"
          tabIndex={-1}
          onChange={(e) => e.target.files?.[0] && void read(e.target.files[0])}
        />
        {refused !== undefined && <Trouble error={refused} />}
      </form>
    </Panel>
  );
}
