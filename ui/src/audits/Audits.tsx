import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { useMay, useMe } from "../api/shop";
import { day, hour, plural, sentence } from "../kit/format";
import { Button, Empty, Field, Figure, Head, LinkButton, Loading, Panel, Select, Table, Tag, Trouble } from "../kit/kit";
import { keys } from "../api/keys";
import { OpenDisputes } from "./Disputes";
import { BlindOffer } from "../api/BlindOffer";
import { WashedToo } from "./WashedToo";
import { useDebounced } from "../kit/form";
import { Count } from "../kit/number";
import { useStartAudit, useStarts } from "../api/startAudit";
import { askKept } from "../offline/kept";
import { walksOf } from "../offline/walks";

type Line = Schemas["AuditLine"];

/** Where somebody is still to walk round, or is walking: after rework, again. */
const waits = new Set<Line["stage"]>(["to audit", "being audited"]);

export function Audits() {
  const audits = useQuery({
    queryKey: keys.audits(),
    queryFn: () => askKept("audits", () => ask(client.GET("/audits"))),
    refetchInterval: 15_000,
  });
  const may = useMay();
  const [list, setList] = useState("");
  const waiting = (audits.data ?? []).filter((a) => a.stage === "to audit" && !a.mine).map((a) => a.wash.id);
  useStarts(may("audit") ? waiting : []);
  if (audits.isPending) return <Loading what="the audits" />;
  if (!audits.data) return <Trouble error={audits.error} retry={() => void audits.refetch()} />;
  const open = audits.data.filter((a) => waits.has(a.stage));
  const asked = open.filter((a) => a.asked?.asked !== false);
  const others = open.filter((a) => a.asked?.asked === false);
  const closed = audits.data.filter((a) => a.passed !== undefined && !waits.has(a.stage));
  const passed = closed.filter((a) => a.atOnce).length;
  const mean = closed.length ? closed.reduce((sum, a) => sum + (a.wash.score ?? 0), 0) / closed.length : 0;
  const findings = closed.reduce((sum, a) => sum + a.wash.findings, 0);
  return (
    <>
      <Head title="Audits" sub="Somebody else audits it: whoever washed it may not.">
        <LinkButton to="/audits/findings">Findings</LinkButton>
        <LinkButton to="/audits/remedies">Remedies</LinkButton>
        <LinkButton to="/audits/agreement">Agreement</LinkButton>
        <LinkButton to="/audits/lists">Checklists</LinkButton>
      </Head>
      <OpenDisputes />
      {may("correct") && <WashedToo />}
      <KeptHere />
      {may("audit") && <Again asked />}
      <div className="grid grid-cols-1 gap-4 xl:grid-cols-2">
        <Panel title="Waiting for a walk round">
          {may("audit") && open.length > 0 && <ByList list={list} setList={setList} />}
          {open.length === 0 ? (
            <Empty>Every finished wash has been audited.</Empty>
          ) : (
            <>
              {asked.length === 0 && <Empty>None of those that wait was drawn.</Empty>}
              <ul className="grid gap-2">
                {asked.map((a) => (
                  <Waiting key={a.wash.id} a={a} may={may("audit")} list={list} />
                ))}
              </ul>
              {others.length > 0 && (
                <div className="mt-4">
                  <h3 className="font-bold">Not drawn</h3>
                  <p className="mb-2 text-sm text-faded">
                    The lead may let them go without an audit, in the yard; anybody may be looked at.
                  </p>
                  <ul className="grid gap-2">
                    {others.map((a) => (
                      <Waiting key={a.wash.id} a={a} may={may("audit")} list={list} />
                    ))}
                  </ul>
                </div>
              )}
            </>
          )}
          {may("audit") && <Again asked={false} />}
        </Panel>
        <Panel title="Last two weeks">
          <div className="mb-3 flex flex-wrap gap-x-9 gap-y-2">
            <Figure value={`${passed} of ${closed.length}`} label="passed first time" />
            <Figure value={mean.toFixed(0)} label="average first score" />
            <Figure value={closed.length ? (findings / closed.length).toFixed(1) : "–"} label="findings per wash" />
          </div>
          <Proof />
          {may("keep remedies") && <Split />}
          <Table stacks caption="Closed audits" head={["When", "Vehicle", "Washed by", "Result"]}>
            {closed.slice(0, 14).map((a) => (
              <tr key={a.wash.id} className="max-sm:grid max-sm:grid-cols-[1fr_auto] max-sm:items-center">
                <td className="whitespace-nowrap max-sm:row-start-2 max-sm:text-sm max-sm:text-faded">{day(a.wash.at)}</td>
                <th scope="row" className="font-normal max-sm:row-start-1">
                  <LinkButton look="quiet" to={`/audits/${a.auditId}`} className="px-0! text-left">
                    {a.wash.label}
                  </LinkButton>
                </th>
                <td className="max-sm:row-start-2 max-sm:text-right max-sm:text-sm">{a.wash.washer.name}</td>
                <td className="max-sm:row-start-1 max-sm:text-right">
                  <Tag tone={a.passed ? "moss" : "rust"}>
                    {a.passed ? (a.atOnce ? "Passed" : "Passed after rework") : a.stage === "rework" ? "In rework" : "Failed"} · {a.score}
                  </Tag>
                </td>
              </tr>
            ))}
          </Table>
          <LinkButton look="quiet" to="/audits/all" className="mt-2">
            All audits
          </LinkButton>
        </Panel>
      </div>
    </>
  );
}

/** Walks of which something lies on this device only: they go on, or are sent, when they are opened. */
function KeptHere() {
  const me = useMe().data?.id ?? "";
  const walks = walksOf(me);
  if (walks.length === 0) return null;
  return (
    <div role="status" className="mb-4 flex flex-wrap items-center gap-3 rounded-xl border-2 border-amber bg-amber-wash p-3">
      <p className="grow">Answers of {plural(walks.length, "walk")} lie on this device and are not sent yet.</p>
      {walks.map((id, i) => (
        <LinkButton key={id} to={`/audits/${id}`}>
          {walks.length === 1 ? "Go on with it" : `Go on with walk ${i + 1}`}
        </LinkButton>
      ))}
    </div>
  );
}

/** What the audits of two weeks say of all washes. */
function Proof() {
  const proof = useQuery({ queryKey: keys.audits("proof"), queryFn: () => ask(client.GET("/audit-proof")) });
  const p = proof.data;
  if (!p) return null;
  return (
    <div className="mb-3 grid gap-3 rounded-xl bg-chalk p-3">
      {p.audited > 0 && <Says title="What that proves, if they were chosen by chance" says={p.says} />}
      <Says title="How sure scores are" says={[p.scores]} />
      {p.plan.says.length > 0 && <Says title="Which washes are drawn" says={p.plan.says} />}
    </div>
  );
}

/** How a week's audits find most: the number that people have time for is the lead's to say. */
function Split() {
  const [audits, setAudits] = useState(10);
  const asked = useDebounced(audits);
  const split = useQuery({
    queryKey: keys.audits("split", asked),
    queryFn: () => ask(client.GET("/audit-split", { params: { query: { audits: asked } } })),
    placeholderData: (last) => last,
  }).data;
  return (
    <details className="mb-3 rounded-xl border border-line p-3">
      <summary className="font-bold">Share a week’s audits out</summary>
      <div className="mt-2 grid gap-3">
        <Field label="Audits there is time for in a week">
          <Count whole max={500} value={audits} onChange={setAudits} />
        </Field>
        {split && (
          <>
            <p>{split.says}</p>
            <Table caption="Audits shared out" head={["Washed by", "By which procedure", "Washes", "Audits", "Likely bad"]}>
              {split.cells.map((h) => (
                <tr key={`${h.id} ${h.procedure}`}>
                  <th scope="row" className="font-normal">
                    {h.name}
                  </th>
                  <td>{h.title}</td>
                  <td className="num">{h.washes}</td>
                  <td className="num font-bold">{h.audits}</td>
                  <td className="num">{`${Math.round(100 * h.rate)} %`}</td>
                </tr>
              ))}
            </Table>
            <p className="text-sm text-faded">
              Bad: with something that a customer would see. Estimated from twelve weeks by who washed and by what, leaning on the rate of
              the shop where there are few audits. For you, not for the wall.
            </p>
          </>
        )}
      </div>
    </details>
  );
}

/** Which list to walk by: the one for the wash, unless another is chosen. */
function ByList({ list, setList }: { list: string; setList: (id: string) => void }) {
  const lists = useQuery({ queryKey: keys.checklists(), queryFn: () => ask(client.GET("/checklists")) });
  const used = (lists.data ?? []).filter((l) => l.inUse && !l.list.at);
  return (
    <div className="mb-3">
      <Field label="Walk by">
        <Select
          value={list}
          onChange={setList}
          options={[{ value: "", label: "The list for the wash" }, ...used.map((l) => ({ value: l.list.id, label: l.list.title }))]}
        />
      </Field>
    </div>
  );
}

/**
 * Signed audits whose vehicle still stands here, to be walked again by one person who has not seen what was found: those that one is
 * asked for, or the others.
 */
function Again({ asked }: { asked: boolean }) {
  const open = useQuery({ queryKey: keys.audits("second"), queryFn: () => ask(client.GET("/second-looks")) });
  const those = (open.data ?? []).filter((o) => o.mine === asked);
  if (those.length === 0) return null;
  return (
    <div className={asked ? "mb-4" : "mt-4"}>
      <h3 className="font-bold">{asked ? "You are asked to walk again, blind" : "Walk again, blind"}</h3>
      <p className="mb-2 text-sm text-faded">
        So that it is known how far auditors agree. Whoever says yes reads what the first found only afterwards.
      </p>
      <ul className="grid gap-2">
        {those.map((o) => (
          <BlindOffer
            key={o.auditId}
            kind="second walk"
            of={o.auditId}
            look={o}
            label={o.label}
            plate={o.plate}
            to={`/audits/${o.auditId}/second`}
          />
        ))}
      </ul>
    </div>
  );
}

function Says({ title, says }: { title: string; says: string[] }) {
  return (
    <div>
      <h3 className="font-bold">{title}</h3>
      <ul className="mt-1 list-disc pl-5">
        {says.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ul>
    </div>
  );
}

function Waiting({ a, may, list }: { a: Line; may: boolean; list: string }) {
  const go = useNavigate();
  const start = useStartAudit(list);
  return (
    <li className="flex flex-wrap items-center justify-between gap-3 rounded-xl border border-line p-3">
      <div>
        <b>{a.wash.label}</b> <span className="num text-faded">{a.wash.plate}</span>
        <p className="text-sm text-faded">
          {a.wash.washer.name}, finished {day(a.wash.at)} {hour(a.wash.at)}; {plural(a.wash.missed, "dwell")} not kept
        </p>
        {a.asked && <p className="text-sm">{sentence(a.asked.why)}.</p>}
        {start.error && <Trouble error={start.error} />}
      </div>
      {a.mine ? (
        <span className="text-faded">You washed it.</span>
      ) : !may ? null : (
        <Button
          look="act"
          disabled={start.isPending}
          onClick={() => (a.stage === "being audited" ? void go(`/audits/${a.auditId}`) : start.mutate(a.wash.id))}
        >
          {a.stage === "being audited" ? "Go on" : a.auditId ? "Look again" : "Walk round"}
        </Button>
      )}
    </li>
  );
}
