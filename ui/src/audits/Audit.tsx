import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Check, CircleSlash, Flag } from "lucide-react";
import { useState } from "react";
import { useParams } from "react-router";
import { type Schemas, ask, client, Problem } from "../api/client";
import { useWords } from "../api/shop";
import { Car } from "../car/Car";
import type { Zone } from "../car/shape";
import { hour, minutes, plural, sentence } from "../kit/format";
import { Button, Choice, Field, Head, inputLook, LinkButton, Loading, Panel, Select, Tag, Trouble } from "../kit/kit";
import { keys, stale } from "../api/keys";

type View = Schemas["AuditView"];
type Item = Schemas["Item"];
type Finding = Schemas["Finding"];

export function Audit() {
  const { id = "" } = useParams();
  const audit = useQuery({
    queryKey: keys.audit(id),
    queryFn: () => ask(client.GET("/audits/{id}", { params: { path: { id } } })),
    refetchInterval: 10_000,
  });
  const [open, setOpen] = useState("");
  const [zone, setZone] = useState<Zone | null>(null);
  const queries = useQueryClient();
  const close = useMutation({
    meta: { said: "Audit closed." },
    mutationFn: () => ask(client.POST("/audits/{id}/close", { params: { path: { id } } })),
    onSuccess: (view) => {
      queries.setQueryData(keys.audit(id), view);
      stale(queries, keys.audits(), keys.yard(), keys.times());
    },
  });
  if (audit.isPending) return <Loading what="the audit" />;
  if (!audit.data) return <Trouble error={audit.error} retry={() => void audit.refetch()} />;
  const view = audit.data;
  const editable = view.mayAudit && !view.closedAt;
  const item =
    view.checklist.items.find((i) => i.id === open) ??
    (editable ? view.checklist.items.find((i) => view.result.open.includes(i.id)) : undefined);
  return (
    <>
      <Head
        title={`Audit: ${view.label}`}
        sub={
          <>
            <span className="num">{view.plate}</span> · washed by {view.washer.name} · {view.checklist.title}, version{" "}
            {view.checklist.version} · {view.auditor.name}
            {view.signer && view.signer.id !== view.auditor.id && `, signed by ${view.signer.name}`}
            {view.round > 1 && ` · round ${view.round}`}
          </>
        }
      >
        {editable && (
          <Button look="act" disabled={view.result.open.length > 0 || close.isPending} onClick={() => close.mutate()}>
            {view.result.open.length ? `${plural(view.result.open.length, "item")} to go` : "Sign the audit"}
          </Button>
        )}
      </Head>
      {close.error && <Trouble error={close.error} />}
      {!view.mayAudit && !view.closedAt && (
        <p className="mb-3 rounded-xl border-2 border-line p-3">View only: whoever washed a car does not audit it.</p>
      )}
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_26rem]">
        <div className="grid min-w-0 content-start gap-3">
          <div className="rounded-2xl border border-line bg-paper p-3">
            <Car
              body={view.spec.body}
              selected={zone}
              onPick={setZone}
              lit={item ? ((view.zones[item.id] as Zone[] | undefined)?.length ? (view.zones[item.id] as Zone[]) : undefined) : undefined}
              pins={view.result.findings.map((f, i) => ({
                zone: f.zone,
                label: String(i + 1),
                tone: f.counts && f.severity !== "minor" ? "rust" : "amber",
              }))}
              className="mx-auto max-h-[26rem]"
            />
          </div>
          <Outcome view={view} />
          <Remarks view={view} />
        </div>
        <Panel title="Checklist" aside={`${view.checklist.items.length - view.result.open.length} of ${view.checklist.items.length}`}>
          <ol className="grid gap-1.5">
            {view.checklist.items.map((i) => (
              <ItemRow
                key={i.id}
                item={i}
                view={view}
                open={item?.id === i.id}
                editable={editable}
                zone={zone}
                onOpen={() => setOpen(i.id)}
              />
            ))}
          </ol>
        </Panel>
      </div>
    </>
  );
}

/** Answers that came after it was signed: beside the result, never in it. */
function Remarks({ view }: { view: View }) {
  if (view.remarks.length === 0) return null;
  const title = (id: string) => view.checklist.items.find((i) => i.id === id)?.title ?? id;
  return (
    <Panel title="Arrived after the audit was signed">
      <ul className="grid gap-1 text-sm">
        {view.remarks.map((r) => (
          <li key={r.item + r.at}>
            <b>{title(r.item)}</b>: {r.answer.verdict}
            {r.answer.findings.map((f) => `, ${f.kind} on ${f.zone}`).join("")}. {r.by}, {hour(r.at)}
          </li>
        ))}
      </ul>
    </Panel>
  );
}

const verdictIcon = { pass: Check, finding: Flag, "not applicable": CircleSlash } as const;
const verdictTone = { pass: "moss", finding: "rust", "not applicable": "plain" } as const;

function ItemRow({
  item,
  view,
  open,
  editable,
  zone,
  onOpen,
}: {
  item: Item;
  view: View;
  open: boolean;
  editable: boolean;
  zone: Zone | null;
  onOpen: () => void;
}) {
  const queries = useQueryClient();
  const answer = view.answers[item.id];
  const [finding, setFinding] = useState(false);
  const save = useMutation({
    mutationFn: (a: Schemas["Answer"]) =>
      ask(
        client.PUT("/audits/{id}/items/{item}", {
          params: { path: { id: view.id, item: item.id } },
          body: { version: answer?.version ?? 0, answer: a },
        }),
      ),
    onSuccess: (next) => {
      setFinding(false);
      queries.setQueryData(keys.audit(view.id), next);
    },
  });
  const Icon = answer && verdictIcon[answer.answer.verdict];
  return (
    <li className={`rounded-xl border ${open ? "border-tide" : "border-line"}`}>
      <button
        type="button"
        onClick={onOpen}
        aria-expanded={open}
        className="flex min-h-hit w-full items-center justify-between gap-2 px-3 text-left"
      >
        <b>{item.title}</b>
        {answer && Icon ? (
          <Tag tone={verdictTone[answer.answer.verdict]}>
            <Icon size={15} aria-hidden />
            {answer.answer.verdict === "finding" ? plural(answer.answer.findings.length, "finding") : sentence(answer.answer.verdict)}
          </Tag>
        ) : (
          <span className="text-sm text-faded">open</span>
        )}
      </button>
      {open && (
        <div className="grid gap-2 px-3 pb-3">
          <p className="text-faded">{item.how}</p>
          {answer && (
            <p className="text-sm text-faded">
              Answered by {answer.by}, {hour(answer.at)}.
            </p>
          )}
          {editable && !finding && (
            <div className="grid grid-cols-3 gap-2">
              <Button className="min-h-14" disabled={save.isPending} onClick={() => save.mutate({ verdict: "pass", findings: [] })}>
                Pass
              </Button>
              <Button className="min-h-14" onClick={() => setFinding(true)}>
                Finding
              </Button>
              <Button
                className="min-h-14 px-1! text-sm"
                disabled={save.isPending}
                onClick={() => save.mutate({ verdict: "not applicable", findings: [] })}
              >
                Not applicable
              </Button>
            </div>
          )}
          {editable && finding && (
            <FindingForm
              item={item}
              view={view}
              zone={zone}
              busy={save.isPending}
              onCancel={() => setFinding(false)}
              onSave={(f) =>
                save.mutate({ verdict: "finding", findings: [...(answer?.answer.verdict === "finding" ? answer.answer.findings : []), f] })
              }
            />
          )}
          {save.error && <Trouble error={save.error} />}
          {save.error instanceof Problem && save.error.stale && (
            <Button
              onClick={() => {
                save.reset();
                void queries.invalidateQueries({ queryKey: keys.audit(view.id) });
              }}
            >
              Show theirs
            </Button>
          )}
        </div>
      )}
    </li>
  );
}

function FindingForm({
  item,
  view,
  zone,
  busy,
  onSave,
  onCancel,
}: {
  item: Item;
  view: View;
  zone: Zone | null;
  busy: boolean;
  onSave: (f: Finding) => void;
  onCancel: () => void;
}) {
  const words = useWords().data;
  const parts = words?.bodies.find((b) => b.body === view.spec.body)?.parts ?? [];
  const [picked, setPicked] = useState<Zone>((view.zones[item.id]?.[0] as Zone | undefined) ?? "roof");
  const [kind, setKind] = useState<Finding["kind"]>(item.kinds[0] ?? "dirt left");
  const [severity, setSeverity] = useState<Finding["severity"]>("minor");
  const [matter, setMatter] = useState<Schemas["Matter"]>("tar");
  const [note, setNote] = useState("");
  const where = zone ?? picked;
  const kinds = [...item.kinds, ...allKinds.filter((k) => !item.kinds.includes(k))];
  return (
    <form
      className="grid gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        onSave({ zone: where, kind, severity, ...(kind === "bonded matter" ? { matter } : {}), ...(note ? { note } : {}) });
      }}
    >
      {zone ? (
        <p>
          <b>Where:</b> {parts.find((p) => p.zone === zone)?.label} <span className="text-faded">(tap another zone to change)</span>
        </p>
      ) : (
        <Field label="Where" hint="or tap the zone on the car">
          <Select value={picked} onChange={setPicked} options={parts.map((p) => ({ value: p.zone, label: p.label }))} />
        </Field>
      )}
      <Field label="What">
        <Select value={kind} onChange={setKind} options={kinds} />
      </Field>
      {kind === "bonded matter" && (
        <Field label="Which">
          <Select value={matter} onChange={setMatter} options={words?.matter ?? ["tar"]} />
        </Field>
      )}
      <Choice
        label="How bad"
        value={severity}
        onChange={setSeverity}
        options={[
          { value: "minor", label: "Minor: on a close look" },
          { value: "major", label: "Major: seen standing" },
          { value: "critical", label: "Critical: damage, danger" },
        ]}
      />
      <Field label="Note">
        <input className={inputLook} value={note} maxLength={1000} onChange={(e) => setNote(e.target.value)} />
      </Field>
      <div className="grid grid-cols-2 gap-2">
        <Button className="min-h-hit" onClick={onCancel}>
          Back
        </Button>
        <Button className="min-h-hit" look="act" type="submit" disabled={busy}>
          Save the finding
        </Button>
      </div>
    </form>
  );
}

const allKinds: Finding["kind"][] = [
  "dirt left",
  "brown towel edge",
  "fine circles",
  "straight fine lines",
  "spots or streaks",
  "drips",
  "brake dust",
  "streaked wheel stain",
  "tyre blotches or sling",
  "lifted film or chipped lacquer",
  "smeared glass",
  "grease in shuts",
  "product in the cabin",
  "bonded matter",
];

function Outcome({ view }: { view: View }) {
  const r = view.result;
  const words = useWords().data;
  const label = (z: Zone) => words?.bodies.find((b) => b.body === view.spec.body)?.parts.find((p) => p.zone === z)?.label ?? z;
  return (
    <Panel
      title={view.closedAt ? `Signed at ${hour(view.closedAt)}` : "So far"}
      aside={view.closedAt && <Tag tone={r.passed ? "moss" : "rust"}>{r.passed ? "Passed" : "Failed"}</Tag>}
    >
      <div className="flex flex-wrap items-baseline gap-x-4">
        <span className={`num text-4xl font-semibold ${r.critical || (view.closedAt && !r.passed) ? "text-rust" : ""}`}>{r.score}</span>
        <span className="text-faded">{r.because}</span>
      </div>
      {view.leaves.length > 0 && (
        <p className="mt-2">
          {view.ordered} leaves {view.leaves.join(", ")}: that is accepted and does not count, unless it is seen standing or does harm.
        </p>
      )}
      {view.outScope.length > 0 && (
        <p className="mt-2 text-sm">
          Declared out of scope: {view.outScope.map((o) => `${o.matter} on ${o.zones.map(label).join(", ")}`).join("; ")}. It does not
          count.
        </p>
      )}
      {r.findings.length > 0 && (
        <ol className="mt-3 grid gap-2">
          {r.findings.map((f, i) => (
            <li key={i} className="border-l-4 border-line pl-3">
              <b>
                {i + 1}. {sentence(f.kind)}
                {f.matter && `: ${f.matter}`}
              </b>{" "}
              on {label(f.zone)} · {f.severity}
              {!f.counts && " · not counted"}
              <span className="block text-faded">
                {sentence(f.cause)}. {f.counts && `Goes back to ${f.stepName ?? "no step in this plan"}, skill: ${f.skill}.`}{" "}
                {f.rework > 0 && `Rework ${minutes(f.rework)}.`}
                {f.note && ` “${f.note}”`}
              </span>
            </li>
          ))}
        </ol>
      )}
      {view.closedAt && view.rework.length > 0 && (
        <div className="mt-3 flex flex-wrap items-center justify-between gap-3">
          <p>
            <b>{plural(view.rework.length, "rework step")}</b> on the same wash, {minutes(view.rework.reduce((s, x) => s + x.minutes, 0))}.
          </p>
          <LinkButton to={`/bay/${view.washId}`}>To the bay</LinkButton>
        </div>
      )}
    </Panel>
  );
}
