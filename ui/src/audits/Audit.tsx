import { Check, CircleSlash, Flag, Moon, SkipForward } from "lucide-react";
import { useState } from "react";
import { useParams } from "react-router";
import type { Schemas } from "../api/client";
import { Car } from "../car/Car";
import type { Zone } from "../car/shape";
import { hour, plural, sentence } from "../kit/format";
import { Head, Loading, Panel, Tag, Trouble } from "../kit/kit";
import { useWaiting } from "../photo/Photos";
import { Disputes } from "./Disputes";
import { IntoSet } from "./IntoSet";
import { AuditPhotos, Outcome } from "./Outcome";
import { type View, type Walking, useWalk } from "./useWalk";
import { Walk } from "./Walk";

type Item = Schemas["Item"];

/** An audit: walked item by item as long as it is open, then what it came to. */
export function Audit() {
  const { id = "" } = useParams();
  return <Walked key={id} id={id} />;
}

function Walked({ id }: { id: string }) {
  const walk = useWalk(id);
  const [opened, setOpened] = useState("");
  const [last, setLast] = useState("");
  const [zone, setZone] = useState<Zone | null>(null);
  const { audit } = walk;
  if (audit.isPending) return <Loading what="the audit" />;
  if (!audit.data) return <Trouble error={audit.error} retry={() => void audit.refetch()} />;
  const view = audit.data;
  const editable = view.mayAudit && !view.closedAt;
  const items = view.checklist.items;
  const next = items.find((i) => view.result.open.includes(i.id) && !walk.answers[i.id]);
  const item = editable ? (items.find((i) => i.id === opened) ?? next) : undefined;
  const answered: Walking = {
    ...walk,
    answer: (of, a) => {
      walk.answer(of, a);
      setLast(of);
      setOpened("");
    },
  };
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
            {view.light && ` · ${view.light}`}
          </>
        }
      />
      {view.washedToo && (
        <p role="status" className="mb-3 rounded-xl border-2 border-amber bg-amber-wash p-3">
          <b>Whoever audited this had a hand in the wash:</b> taps of theirs came after the signature. What was signed stays as it is.
        </p>
      )}
      {!view.mayAudit && !view.closedAt && (
        <p className="mb-3 rounded-xl border-2 border-line p-3">View only: whoever washed a car does not audit it.</p>
      )}
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_26rem]">
        <div className="grid content-start gap-3 lg:order-2">
          {editable && (
            <Walk
              view={view}
              walk={answered}
              item={item}
              zone={zone}
              setZone={setZone}
              last={last}
              open={(i) => (setZone(null), setOpened(i))}
            />
          )}
          {!editable && <Outcome view={view} />}
          <Disputes view={view} />
          <IntoSet view={view} />
          <Items view={view} walk={walk} item={item} {...(editable && { open: (i: string) => (setZone(null), setOpened(i)) })} />
        </div>
        <div className="grid min-w-0 content-start gap-3">
          <div className="rounded-2xl border border-line bg-paper p-3">
            <Car
              body={view.spec.body}
              selected={zone}
              {...(item && { onPick: setZone })}
              {...(item && view.zones[item.id]?.length && { lit: view.zones[item.id] as Zone[] })}
              pins={view.result.findings.map((f, i) => ({
                zone: f.zone,
                label: String(i + 1),
                tone: f.counts && f.severity !== "minor" ? "rust" : "amber",
              }))}
              className="mx-auto max-h-[26rem]"
            />
          </div>
          {editable && <Outcome view={view} />}
          <AllPhotos view={view} />
          <Remarks view={view} />
        </div>
      </div>
    </>
  );
}

const verdictIcon = { pass: Check, finding: Flag, "not applicable": CircleSlash } as const;
const verdictTone = { pass: "moss", finding: "rust", "not applicable": "plain" } as const;

/** The whole list with what was answered: any item can be taken up again. */
function Items({ view, walk, item, open }: { view: View; walk: Walking; item: Item | undefined; open?: (id: string) => void }) {
  const items = view.checklist.items;
  const left = items.filter((i) => view.result.open.includes(i.id) && !walk.answers[i.id]).length;
  return (
    <Panel title="Checklist" aside={`${items.length - left} of ${items.length}`}>
      <ol className="grid gap-1.5">
        {items.map((i) => {
          const line = (
            <>
              <span className={i.id === item?.id ? "font-bold" : ""}>{i.title}</span>
              <Standing item={i} view={view} walk={walk} />
            </>
          );
          const edge = i.id === item?.id ? "border-tide" : "border-line";
          const look = `flex min-h-hit w-full items-center justify-between gap-2 rounded-xl border px-3 text-left ${edge}`;
          return (
            <li key={i.id}>
              {open ? (
                <button type="button" className={look} aria-current={i.id === item?.id ? "step" : undefined} onClick={() => open(i.id)}>
                  {line}
                </button>
              ) : (
                <div className={look}>{line}</div>
              )}
              {view.skips[i.id] && !walk.answers[i.id] && <p className="px-3 text-sm text-faded">Not asked: {view.skips[i.id]}.</p>}
            </li>
          );
        })}
      </ol>
    </Panel>
  );
}

function Standing({ item, view, walk }: { item: Item; view: View; walk: Walking }) {
  const answer = walk.answers[item.id];
  if (answer) {
    const Icon = verdictIcon[answer.verdict];
    return (
      <Tag tone={verdictTone[answer.verdict]}>
        <Icon size={15} aria-hidden />
        {answer.verdict === "finding" ? plural(answer.findings.length, "finding") : sentence(answer.verdict)}
      </Tag>
    );
  }
  if (item.id in view.skips)
    return (
      <Tag>
        <SkipForward size={15} aria-hidden /> Not asked
      </Tag>
    );
  if (view.result.tooDark?.includes(item.id))
    return (
      <Tag tone="amber">
        <Moon size={15} aria-hidden /> Too dark
      </Tag>
    );
  return <span className="text-sm text-faded">open</span>;
}

function AllPhotos({ view }: { view: View }) {
  const waiting = useWaiting({ subject: "audit", of: view.id });
  if ((view.photos ?? []).length + waiting.length === 0) return null;
  return (
    <Panel title="Photos">
      <AuditPhotos view={view} />
    </Panel>
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
