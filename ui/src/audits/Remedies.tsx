import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { useMay } from "../api/shop";
import { day, plural, sentence } from "../kit/format";
import { Button, Empty, Head, LinkButton, Loading, Panel, Tag, type Tone, Trouble } from "../kit/kit";
import { RemedyForm } from "./RemedyForm";

type View = Schemas["RemedyView"];
type Outcome = Schemas["Measured"]["outcome"];

const tones: Record<Outcome, Tone> = {
  "not done yet": "plain",
  "too early": "plain",
  fell: "moss",
  rose: "rust",
  "no change shown": "amber",
};
const says: Record<Outcome, string> = {
  "not done yet": "Not done yet",
  "too early": "Too early to tell",
  fell: "It fell",
  rose: "It rose",
  "no change shown": "No change shown",
};

/** What is done about findings: open ones with what the audits say so far, then those that were closed with it. */
export function Remedies() {
  const remedies = useQuery({ queryKey: keys.audits("remedies"), queryFn: () => ask(client.GET("/remedies")) });
  if (remedies.isPending) return <Loading what="the remedies" />;
  if (!remedies.data) return <Trouble error={remedies.error} retry={() => void remedies.refetch()} />;
  const open = remedies.data.filter((r) => !r.closedAt);
  const closed = remedies.data.filter((r) => r.closedAt);
  return (
    <>
      <Head title="Remedies" sub="What is done about findings, and whether the audits say that it helped.">
        <LinkButton to="/audits/findings">Findings</LinkButton>
        <LinkButton to="/audits">Audits</LinkButton>
      </Head>
      {open.length === 0 && <Empty>Nothing is taken up. Choose a pattern under Findings and take it up.</Empty>}
      <div className="grid gap-4 xl:grid-cols-2">
        {open.map((r) => (
          <Remedy key={r.id} r={r} />
        ))}
      </div>
      {closed.length > 0 && (
        <>
          <h2 className="mt-6 mb-2">Closed</h2>
          <div className="grid gap-4 xl:grid-cols-2">
            {closed.map((r) => (
              <Remedy key={r.id} r={r} />
            ))}
          </div>
        </>
      )}
    </>
  );
}

function Remedy({ r }: { r: View }) {
  const may = useMay();
  const [writing, setWriting] = useState(false);
  const m = r.measured;
  const lead = may("keep remedies");
  const change = useChange();
  const at = { params: { path: { id: r.id } } };
  const close = (again: boolean) => client.POST("/remedies/{id}/close", { ...at, body: { version: r.version, again } });
  return (
    <Panel title={r.remedy.title} aside={<Tag tone={tones[m.outcome]}>{says[m.outcome]}</Tag>}>
      <p className="text-lg">{m.says}</p>
      {m.before.of > 0 && <Shares m={m} />}
      <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
        <dt className="text-faded">Thought to be behind it</dt>
        <dd>{sentence(r.remedy.cause)}</dd>
        <dt className="text-faded">What is done</dt>
        <dd>
          {sentence(r.remedy.act)}
          {r.where && `: ${r.where}`}
          {r.remedy.note && `. ${r.remedy.note}`}
        </dd>
        <dt className="text-faded">Who, by when</dt>
        <dd>
          {r.owner.name}, {day(r.remedy.due)} {r.overdue && <Tag tone="rust">overdue</Tag>}
        </dd>
        {r.actedAt && (
          <>
            <dt className="text-faded">Since</dt>
            <dd>
              {day(r.actedAt)}
              {r.published && `, with version ${r.published}`}
            </dd>
          </>
        )}
      </dl>
      {writing ? (
        <div className="mt-3 border-t border-line pt-3">
          <RemedyForm start={r.remedy} version={r.version} id={r.id} done={() => setWriting(false)} />
        </div>
      ) : (
        <div className="mt-3 flex flex-wrap gap-2">
          {!r.closedAt && !r.actedAt && lead && <Begin r={r} />}
          {!r.closedAt && !r.actedAt && (r.mine || lead) && (
            <Button disabled={change.isPending} onClick={() => change.mutate(() => ask(client.POST("/remedies/{id}/acted", at)))}>
              It is done
            </Button>
          )}
          {!r.closedAt && lead && <Button onClick={() => setWriting(true)}>Change it</Button>}
          {lead && (
            <Button disabled={change.isPending} onClick={() => change.mutate(() => ask(close(r.closedAt !== undefined)))}>
              {r.closedAt ? "Take it up again" : "Close it with this"}
            </Button>
          )}
        </div>
      )}
      {change.error && <Trouble error={change.error} />}
    </Panel>
  );
}

function useChange() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (doing: () => Promise<View[]>) => doing(),
    onSuccess: (now) => queries.setQueryData(keys.audits("remedies"), now),
  });
}

/** Where an act begins. A step is opened as a draft with the change prepared. */
const begins: Partial<Record<Schemas["AuditRemedy"]["act"], { to: string; label: string }>> = {
  practise: { to: "/training", label: "To training" },
  "retire a cloth set": { to: "/shelf", label: "To the cloth sets" },
  "look at more washes": { to: "/settings", label: "To the settings" },
  "move slots out of the sun": { to: "/day", label: "To the day" },
};

function Begin({ r }: { r: View }) {
  const queries = useQueryClient();
  const may = useMay();
  const go = useNavigate();
  const draft = useMutation({
    mutationFn: () => ask(client.POST("/remedies/{id}/draft", { params: { path: { id: r.id } } })),
    onSuccess: (p) => {
      stale(queries, keys.procedure(), keys.procedures());
      void go(`/procedures/${p.procedure}/write?step=${encodeURIComponent(p.step)}`);
    },
  });
  const there = begins[r.remedy.act];
  if (there) return <LinkButton to={there.to}>{there.label}</LinkButton>;
  if (r.remedy.act !== "change a step" || !may("write procedures")) return null;
  return (
    <>
      <Button look="act" disabled={draft.isPending} onClick={() => draft.mutate()}>
        Open a draft with the change
      </Button>
      {draft.error && <Trouble error={draft.error} />}
    </>
  );
}

const percent = (share: number) => Math.round(100 * share);

/** In how many audits it was found before and since, with the range that this leaves open. */
function Shares({ m }: { m: Schemas["Measured"] }) {
  const most = Math.max(m.before.high, m.after.of > 0 ? m.after.high : 0, 0.01);
  const rows = [
    { name: "Before", s: m.before },
    { name: "Since", s: m.after },
  ].filter((x) => x.s.of > 0);
  return (
    <ul className="mt-2 grid gap-1.5">
      {rows.map(({ name, s }) => (
        <li key={name} className="grid grid-cols-[4rem_1fr_auto] items-center gap-2">
          <span>{name}</span>
          <span className="relative h-4 rounded-full bg-chalk" aria-hidden>
            <span
              className="absolute inset-y-0 rounded-full bg-tide-wash"
              style={{ left: `${(100 * s.low) / most}%`, right: `${100 - (100 * s.high) / most}%` }}
            />
            <span className="absolute inset-y-0 w-1.5 rounded-full bg-tide" style={{ left: `calc(${(100 * s.share) / most}% - 3px)` }} />
          </span>
          <span className="num text-sm">
            {`${percent(s.share)} % of ${plural(s.of, "audit")} · ${percent(s.low)} to ${percent(s.high)} %`}
          </span>
        </li>
      ))}
    </ul>
  );
}
