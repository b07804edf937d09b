import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Check } from "lucide-react";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { useWords } from "../api/shop";
import type { Zone } from "../car/shape";
import { plural, sentence } from "../kit/format";
import { Button, Field, inputLook, Panel, Select, Trouble } from "../kit/kit";
import { Num } from "../kit/number";
import { FindingForm, tap } from "./FindingForm";
import { asides } from "./Outcome";
import { TakePhoto } from "../photo/Photos";
import { AuditPhotos, useZoneName } from "./Outcome";
import type { Answer, Light, View, Walking } from "./useWalk";

type Item = Schemas["Item"];
type Finding = Schemas["Finding"];

interface WalkProps {
  view: View;
  walk: Walking;
  item: Item | undefined;
  zone: Zone | null;
  setZone: (z: Zone | null) => void;
  open: (id: string) => void;
  last: string;
}

/** The item in hand: passed by one tap, a finding in three. The next open one comes by itself. */
export function Walk({ view, walk, item, zone, setZone, open, last }: WalkProps) {
  const before = view.checklist.items.find((i) => i.id === last);
  return (
    <div className="grid gap-3">
      {walk.trouble && (
        <div className="grid gap-2">
          <Trouble error={walk.trouble} />
          <p>This walk could not begin in the shop’s records. Its answers are kept on this device.</p>
          <Button className="justify-self-start" onClick={walk.giveUp}>
            Give this walk up
          </Button>
        </div>
      )}
      <Refused view={view} walk={walk} open={open} />
      {!walk.light && <InWhichLight onPick={walk.setLight} />}
      {item ? (
        <InHand key={item.id} item={item} view={view} answers={walk.answers} answer={walk.answer} zone={zone} setZone={setZone} photos />
      ) : (
        <Sign view={view} unsent={walk.unsent + (walk.begun ? 1 : 0)} open={open} />
      )}
      {before && before.id !== item?.id && (
        <Button look="quiet" className="justify-self-start" onClick={() => open(before.id)}>
          Back to: {before.title}
        </Button>
      )}
      {walk.begun && <p className="text-sm text-faded">Begun on this device: the shop learns of it once there is a connection.</p>}
      {walk.unsent > 0 && ( // below: nothing moves away under a thumb while an answer is on its way
        <p role="status" className="text-sm text-faded">{`${plural(walk.unsent, "answer")} kept on this device, not sent yet.`}</p>
      )}
    </div>
  );
}

const lights: { is: Light; about: string }[] = [
  { is: "daylight", about: "outside, or by the gate" },
  { is: "lamp", about: "held across the panel" },
  { is: "dusk", about: "marks and smears stay open" },
];

/** Asked once. */
export function InWhichLight({ onPick }: { onPick: (l: Light) => void }) {
  return (
    <Panel title="In which light do you look?">
      <div className="grid grid-cols-3 gap-2">
        {lights.map((l) => (
          <button key={l.is} type="button" className={tap} onClick={() => onPick(l.is)}>
            <b className="block">{sentence(l.is)}</b>
            <span className="block text-sm text-faded">{l.about}</span>
          </button>
        ))}
      </div>
    </Panel>
  );
}

/** What was refused, with the reason. */
function Refused({ view, walk, open }: { view: View; walk: Walking; open: (id: string) => void }) {
  const title = (id: string) => view.checklist.items.find((i) => i.id === id)?.title ?? id;
  return (
    <>
      {walk.refused.map((r) => (
        <div key={r.item} role="alert" className="grid gap-2 rounded-xl border-2 border-amber bg-amber-wash p-3">
          <p>
            <b>{title(r.item)}</b>: your answer ({r.answer.verdict}) was set aside. {r.says}
          </p>
          <div className="flex flex-wrap gap-2">
            <Button onClick={() => walk.answer(r.item, r.answer)}>Put mine instead</Button>
            <Button onClick={() => (walk.letGo(r.item), open(r.item))}>Let mine go</Button>
          </div>
        </div>
      ))}
    </>
  );
}

interface InHandProps {
  item: Item;
  view: View;
  answers: Record<string, Answer>;
  answer: (item: string, a: Answer) => void;
  zone: Zone | null;
  setZone: (z: Zone | null) => void;
  /** Whether photos are taken: not on a blind look. */
  photos?: boolean;
}

/** One look: passed by a tap, or what is found in three. */
export function InHand({ item, view, answers, answer, zone, setZone, photos }: InHandProps) {
  const given = answers[item.id];
  const findings = given?.verdict === "finding" ? given.findings : [];
  const [not, setNot] = useState(false);
  const [read, setRead] = useState<number | undefined>(given?.reading);
  const name = useZoneName(view);
  const give = (a: Answer) => {
    setZone(null);
    answer(item.id, a.verdict !== "not applicable" && read !== undefined && item.reading ? { ...a, reading: read } : a);
  };
  const unread = item.reading !== undefined && (read === undefined || Number.isNaN(read));
  const found = (f: Finding) => give({ verdict: "finding", findings: [...findings, f] });
  const without = (i: number) => {
    const rest = findings.filter((_, k) => k !== i);
    give(rest.length > 0 ? { verdict: "finding", findings: rest } : { verdict: "pass", findings: [] });
  };
  const at = view.checklist.items.indexOf(item) + 1;
  return (
    <Panel title={item.title} aside={`${at} of ${view.checklist.items.length}`}>
      <div className="grid gap-3">
        <div>
          <p>{item.how}</p>
          {item.done && (
            <p className="mt-1">
              <b>Done when:</b> {item.done}
            </p>
          )}
          {item.reading && <Read reading={item.reading} value={read} onChange={setRead} />}
          {(item.lets ?? []).map((l) => (
            <p key={l.kind} className="mt-1 text-sm text-faded">{`Let pass: up to ${l.most}${l.unit === "%" ? " %" : ""}, ${l.kind}.`}</p>
          ))}
        </div>
        {zone ? (
          <FindingForm
            item={item}
            view={view}
            zone={zone}
            onSave={found}
            onCancel={() => setZone(null)}
            {...(photos && {
              photos: {
                shown: <AuditPhotos view={view} zone={zone} />,
                take: <TakePhoto subject="audit" of={view.id} zone={zone} item={item.id} what={name(zone)} />,
              },
            })}
          />
        ) : (
          <>
            <Findings findings={findings} view={view} out={without} />
            {item.photo && <p className="text-sm font-semibold">A finding here wants a photo.</p>}
            {photos && item.photo && findings[0] && (
              <TakePhoto subject="audit" of={view.id} zone={findings[0].zone} item={item.id} what={name(findings[0].zone)} />
            )}
            {findings.length === 0 && (
              <Button
                look="act"
                className="min-h-16 text-lg"
                disabled={unread || (item.reading !== undefined && !within(item.reading, read))}
                onClick={() => give({ verdict: "pass", findings: [] })}
              >
                <Check size={22} aria-hidden /> Pass
              </Button>
            )}
            {!unread && <Where item={item} view={view} setZone={setZone} more={findings.length > 0} />}
            {findings.length === 0 && !not && (
              <Button look="quiet" className="justify-self-start" onClick={() => setNot(true)}>
                Does not apply
              </Button>
            )}
            {not && <WhyNot onSay={(note) => give({ verdict: "not applicable", findings: [], note })} />}
          </>
        )}
      </div>
    </Panel>
  );
}

type Reading = NonNullable<Item["reading"]>;

const within = (r: Reading, n: number | undefined) =>
  n !== undefined && (r.least === undefined || n >= r.least) && (r.most === undefined || n <= r.most);

/** The number that a look asks for: within its bounds it may pass. */
function Read({ reading: r, value, onChange }: { reading: Reading; value: number | undefined; onChange: (n: number | undefined) => void }) {
  const bounds = [r.least !== undefined && `no less than ${r.least}`, r.most !== undefined && `no more than ${r.most}`].filter(Boolean);
  return (
    <div className="my-2">
      <Field label={`${r.what}${r.unit ? `, ${r.unit}` : ""}`} {...(bounds.length > 0 && { hint: `a pass is ${bounds.join(" and ")}` })}>
        <Num value={value} onChange={onChange} />
      </Field>
      {value !== undefined && !Number.isNaN(value) && !within(r, value) && (
        <p role="status" className="mt-1 font-semibold text-rust">
          Not within what passes: say where something is.
        </p>
      )}
    </div>
  );
}

/** So many zones lie open to be tapped: more would push the rest off a phone. */
const mostTaps = 6;

/** Where something is found: the item's own zones by a tap; any other on the car. */
function Where({ item, view, setZone, more }: { item: Item; view: View; setZone: (z: Zone) => void; more: boolean }) {
  const name = useZoneName(view);
  const zones = (view.zones[item.id] ?? []).slice(0, mostTaps);
  const parts = useWords().data?.bodies.find((b) => b.body === view.spec.body)?.parts ?? [];
  const others = parts.filter((p) => !zones.includes(p.zone));
  return (
    <div role="group" aria-label="Where something is" className="grid gap-2">
      <p className="font-semibold">{more ? "Or where more is" : "Or where something is"}</p>
      <div className="grid grid-cols-2 gap-2">
        {zones.map((z) => (
          <button key={z} type="button" className={tap} onClick={() => setZone(z)}>
            {sentence(name(z))}
          </button>
        ))}
      </div>
      <Select
        label="Elsewhere"
        value=""
        onChange={(z) => z && setZone(z as Zone)}
        options={[
          { value: "", label: zones.length === 0 ? "Which part of the car…" : "Elsewhere…" },
          ...others.map((p) => ({ value: p.zone as string, label: p.label })),
        ]}
      />
    </div>
  );
}

function Findings({ findings, view, out }: { findings: Finding[]; view: View; out: (i: number) => void }) {
  const name = useZoneName(view);
  if (findings.length === 0) return null;
  return (
    <ul className="grid gap-2">
      {findings.map((f, i) => (
        <li key={i} className="flex items-center justify-between gap-2 rounded-lg bg-chalk p-2">
          <span>{`${sentence(f.kind)} on ${name(f.zone)}, ${f.severity}${asides(f)}`}</span>
          <Button aria-label={`Take out ${f.kind} on ${name(f.zone)}`} onClick={() => out(i)}>
            Take out
          </Button>
        </li>
      ))}
    </ul>
  );
}

const reasons = ["Not ordered", "Not on this car", "Cannot be reached now"];

function WhyNot({ onSay }: { onSay: (note: string) => void }) {
  const [note, setNote] = useState("");
  return (
    <form
      className="grid gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (note.trim()) onSay(note.trim());
      }}
    >
      <p className="font-semibold">Why does it not apply?</p>
      <div className="grid grid-cols-2 gap-2">
        {reasons.map((r) => (
          <button key={r} type="button" className={tap} onClick={() => onSay(r)}>
            {r}
          </button>
        ))}
      </div>
      <div className="flex gap-2">
        <input
          className={inputLook}
          aria-label="Another reason"
          placeholder="Another reason"
          maxLength={300}
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
        <Button type="submit">Say it</Button>
      </div>
    </form>
  );
}

/** Signing stands at the end and asks once: what is signed stays signed. */
function Sign({ view, unsent, open }: { view: View; unsent: number; open: (item: string) => void }) {
  const queries = useQueryClient();
  const [sure, setSure] = useState(false);
  const r = view.result;
  const unproven = view.unproven ?? [];
  const close = useMutation({
    meta: { said: "Audit signed." },
    mutationFn: () => ask(client.POST("/audits/{id}/close", { params: { path: { id: view.id } } })),
    onSuccess: (next) => {
      queries.setQueryData(keys.audit(view.id), next);
      stale(queries, keys.audits(), keys.yard(), keys.times());
    },
  });
  const comes = r.passed ? `passes with ${r.score}` : `fails with ${r.score}`;
  return (
    <Panel title="All looked at">
      <div className="grid gap-3">
        <p>{r.incomplete ? r.because : `The wash ${comes}. ${plural(r.findings.length, "finding")}.`}</p>
        {unproven.length > 0 && (
          <div className="grid gap-2">
            <p>
              <b>{plural(unproven.length, "finding")}</b> {unproven.length === 1 ? "wants" : "want"} a photo before it is signed.
            </p>
            {unproven.map((id) => (
              <Button key={id} className="min-h-14" onClick={() => open(id)}>
                {`Photo for: ${view.checklist.items.find((i) => i.id === id)?.title ?? id}`}
              </Button>
            ))}
          </div>
        )}
        {unsent > 0 && <p className="text-faded">It can be signed once what is kept here has been sent.</p>}
        {sure ? (
          <div className="grid gap-2">
            <p className="font-semibold">{`It ${comes}, and stays as you sign it.`}</p>
            <div className="grid grid-cols-2 gap-2">
              <Button className="min-h-14" onClick={() => setSure(false)}>
                Not yet
              </Button>
              <Button look="act" className="min-h-14" disabled={close.isPending} onClick={() => close.mutate()}>
                Sign it
              </Button>
            </div>
          </div>
        ) : (
          <Button
            look="act"
            className="min-h-16 text-lg"
            disabled={unsent > 0 || unproven.length > 0 || r.incomplete === true}
            onClick={() => setSure(true)}
          >
            Sign the audit
          </Button>
        )}
        {close.error && <Trouble error={close.error} />}
      </div>
    </Panel>
  );
}
