import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { AlertTriangle, Printer } from "lucide-react";
import { useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { useMe, usePeople, useMay } from "../api/shop";
import { hour, money, seconds, sentence } from "../kit/format";
import { Button, Figure, LinkButton, Panel, Select, Table, Tick, Trouble } from "../kit/kit";
import { Risk } from "./Risk";
import { Lanes, LanesKey, lasting } from "../ribbon/Lanes";
import { say } from "../kit/notice";
import { keys } from "../api/keys";

type Arranged = Schemas["Arranged"];
type View = Schemas["TimelineView"];

const later = (zero: string, s: number) => new Date(Date.parse(zero) + s * 1000);

/** The plan as a timeline for a crew: when it is done and how sure that is, who does what when, what else could be done. */
export function Crew({
  view,
  plan,
  asNow,
  onStep,
}: {
  view: Schemas["PlanView"];
  plan: Schemas["Plan"];
  asNow: boolean;
  onStep: (step: string) => void;
}) {
  const id = view.booking.id;
  const procedure = plan.procedure;
  const saved = view.booking.arranged;
  const [mine, setMine] = useState<Arranged>();
  const arranged: Arranged = { ...(mine ?? (saved?.procedure === procedure ? saved : { people: saved?.people })), procedure, asNow };
  const line = useQuery({
    queryKey: keys.timeline(id, arranged, view.version),
    queryFn: () => ask(client.POST("/bookings/{id}/timeline", { params: { path: { id } }, body: arranged })),
    placeholderData: (last) => last,
  });
  const [slot, setSlot] = useState("");
  const [marked, setMarked] = useState("");
  if (!line.data)
    return <Panel className="mb-4">{line.error ? <Trouble error={line.error} /> : <p role="status">Laying the work out…</p>}</Panel>;
  const pick = (work: string) => {
    setSlot(work);
    const step = line.data.timeline.slots.find((s) => s.id === work)?.step;
    if (step) onStep(step);
  };
  const move = (work: string, person: string, notBefore: number) => {
    const rest = (arranged.moved ?? []).filter((m) => m.work !== work);
    setMine({ ...arranged, moved: [...rest, { work, person, notBefore: Math.round(notBefore) }] });
    setSlot(work);
  };
  return (
    <Panel className="mb-4">
      <People arranged={arranged} line={line.data} onChange={setMine} locked={!!view.booking.washId} />
      {line.error && <Trouble error={line.error} />}
      <Sure line={line.data} view={view} />
      <Risk line={line.data} steps={plan.steps} marked={marked} onMark={setMarked} />
      {line.data.timeline.slots.length > 0 && (
        <>
          <Lanes
            slots={line.data.timeline.slots}
            soaks={line.data.timeline.soaks}
            people={line.data.crew.map((p) => p.id)}
            names={line.data.timeline.names ?? {}}
            titles={line.data.titles}
            finish={line.data.timeline.finish}
            zero={line.data.zero}
            selected={slot}
            marked={marked}
            onPick={pick}
            onMove={view.booking.washId ? undefined : move}
          />
          <LanesKey />
        </>
      )}
      <Why line={line.data} slot={slot} onPick={pick} onMove={view.booking.washId ? undefined : move} />
      <SaveArranged view={view} arranged={arranged} changed={!!mine} onDone={() => setMine(undefined)} />
      <Others id={id} arranged={arranged} onTake={setMine} />
    </Panel>
  );
}

/** When it is done, and how sure that is. */
function Sure({ line, view }: { line: View; view: Schemas["PlanView"] }) {
  const me = useMe().data;
  const { timeline: t, promise: p } = line;
  const late = p && later(line.zero, p.p80).getTime() > Date.parse(view.booking.promisedAt);
  return (
    <>
      {t.feasible ? (
        <div className="mb-3 flex flex-wrap gap-x-7 gap-y-2">
          {p && <Figure value={hour(later(line.zero, p.p80))} label="safe promise (4 of 5)" tone={late ? "text-rust" : "text-ink"} />}
          {p && <Figure value={`${hour(later(line.zero, p.p50))}–${hour(later(line.zero, p.p95))}`} label="likely finish, to 19 in 20" />}
          <Figure
            value={lasting(t.finish)}
            label={t.proven ? "planned; none is faster" : `planned; could be up to ${((100 * t.gap) / (1 + t.gap)).toFixed(1)} % faster`}
          />
          {p && (
            <Figure value={`${Math.round(p.overrun * 100)} %`} label="risk of drying" tone={p.overrun > 0.2 ? "text-rust" : "text-ink"} />
          )}
          <Figure value={lasting(Math.max(0, line.noOverlap - t.finish))} label="saved by overlap" />
          <Figure
            value={money(line.product + line.labour, me?.currency ?? "")}
            label={line.unpaid ? "product; no price of an hour's work is set" : "product and labour"}
          />
        </div>
      ) : (
        <ul className="mb-3 grid gap-1" role="alert">
          {t.why?.map((w) => (
            <li key={w} className="flex items-start gap-2 font-semibold text-rust">
              <AlertTriangle size={19} className="mt-0.5 shrink-0" aria-hidden /> {w}
            </li>
          ))}
        </ul>
      )}
      {p?.helper && p.helper.saves >= 60 && line.late.length === 0 && (
        <p className="mb-1">
          A helper helps most at <b>{p.helper.title}</b>: four of five washes are done {lasting(p.helper.saves)} sooner.
        </p>
      )}
      {[...line.late, ...Object.entries(line.turns).map(([step, how]) => turnWords(line, step, how))].map((w, i) => (
        <p key={w} className={`mb-1 flex items-start gap-2 ${i < line.late.length ? "font-semibold text-rust" : ""}`}>
          {i < line.late.length && <AlertTriangle size={19} className="mt-0.5 shrink-0" aria-hidden />} {w}
        </p>
      ))}
    </>
  );
}

function turnWords(line: View, step: string, how: string) {
  const title = line.titles[step] ?? step;
  return title.endsWith(how) ? `${title}: that is quickest here.` : `${title}: quickest here ${how}.`;
}

/** Who is in the crew. */
function People({
  arranged,
  line,
  onChange,
  locked,
}: {
  arranged: Arranged;
  line: View;
  onChange: (a: Arranged) => void;
  locked: boolean;
}) {
  const people = (usePeople().data ?? []).filter((p) => p.role !== "auditor");
  const crew = arranged.people?.length ? arranged.people : line.crew.map((p) => p.id); // what is chosen, before the answer comes
  const toggle = (id: string) => {
    const next = crew.includes(id) ? crew.filter((c) => c !== id) : [...crew, id];
    const moved = (arranged.moved ?? []).filter((m) => !m.person || next.includes(m.person));
    if (next.length > 0) onChange({ ...arranged, people: next, moved });
  };
  return (
    <fieldset className="no-print mb-3 flex flex-wrap items-center gap-1.5" disabled={locked}>
      <legend className="float-left mr-3 font-semibold">Who washes</legend>
      {people.map((p) => (
        <button
          key={p.id}
          type="button"
          aria-pressed={crew.includes(p.id)}
          onClick={() => toggle(p.id)}
          className={`min-h-hit rounded-xl border-2 px-3 ${crew.includes(p.id) ? "border-tide bg-tide-wash font-semibold" : "border-line bg-paper hover:border-ink"}`}
        >
          {p.name}
          {p.role === "trainee" && ", trainee"}
        </button>
      ))}
      <StandsBy arranged={arranged} crew={crew} people={people} onChange={onChange} />
      {((arranged.moved ?? []).length > 0 || (arranged.without ?? []).length > 0) && (
        <Button look="quiet" className="min-h-hit" onClick={() => onChange({ ...arranged, moved: [], without: [] })}>
          Undo what was moved
        </Button>
      )}
    </fieldset>
  );
}

/** Who stands beside a trainee, and for how much of the wash: their time is in the timeline, and in the day. */
function StandsBy({
  arranged,
  crew,
  people,
  onChange,
}: {
  arranged: Arranged;
  crew: string[];
  people: { id: string; name: string; role: string }[];
  onChange: (a: Arranged) => void;
}) {
  const first = people.find((p) => p.id === crew[0]);
  if (first?.role !== "trainee") return null;
  const { beside, ...without } = arranged;
  const others = people.filter((p) => p.role !== "trainee" && !crew.includes(p.id));
  return (
    <div className="flex w-full flex-wrap items-center gap-2">
      <div className="w-72">
        <Select
          label={`Who stands beside ${first.name}`}
          value={beside?.trainer ?? ""}
          onChange={(trainer) => onChange(trainer ? { ...arranged, beside: { ...beside, trainer } } : without)}
          options={[{ value: "", label: "nobody beside them" }, ...others.map((p) => ({ value: p.id, label: `${p.name} beside them` }))]}
        />
      </div>
      {beside && (
        <Tick
          label="Watches the whole wash"
          on={beside.whole ?? false}
          onChange={(whole) => onChange({ ...arranged, beside: { ...beside, whole } })}
        />
      )}
    </div>
  );
}

/** Why a block stands where it stands, what would let it start sooner, and the same moves as by dragging. */
function Why({
  line,
  slot,
  onPick,
  onMove,
}: {
  line: View;
  slot: string;
  onPick: (work: string) => void;
  onMove?: (work: string, person: string, start: number) => void;
}) {
  const s = line.timeline.slots.find((x) => x.id === slot);
  const which = (
    <div className="no-print w-72">
      <Select
        label="Block"
        value={slot}
        onChange={onPick}
        options={[
          { value: "", label: "pick a block" },
          ...line.timeline.slots.map((x) => ({ value: x.id, label: `${hour(later(line.zero, x.start))} ${x.title}` })),
        ]}
      />
    </div>
  );
  if (!s)
    return (
      <div className="no-print mt-2 flex flex-wrap items-center gap-x-4 gap-y-1">
        {which}
        <p className="text-sm text-faded">
          Pick a block to see why it stands where it does. Drag it, or go from block to block with the arrow keys and move one with Alt and
          the arrows.
        </p>
      </div>
    );
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1.5 rounded-xl bg-tide-wash px-3 py-2" role="status">
      <p className="grow basis-80">
        <b>{s.title}</b>{" "}
        <span className="num">
          {hour(later(line.zero, s.start))} to {hour(later(line.zero, s.end))}
        </span>
        . {s.because}{" "}
        {s.critical
          ? "A minute longer here makes the whole wash a minute longer."
          : `It could start ${seconds(s.slack)} later and nothing else would move.`}
      </p>
      {which}
      {onMove && s.who && (
        <div className="no-print flex flex-wrap items-center gap-1.5">
          <Button className="min-h-hit px-2.5!" onClick={() => onMove(s.id, s.who ?? "", Math.max(0, s.start - 60))}>
            Sooner
          </Button>
          <Button className="min-h-hit px-2.5!" onClick={() => onMove(s.id, s.who ?? "", s.start + 60)}>
            A minute later
          </Button>
          {line.crew.length > 1 && (
            <div className="w-44">
              <Select
                label={`Who does ${s.title}`}
                value={s.who}
                onChange={(who) => onMove(s.id, who, 0)}
                options={line.crew.map((p) => ({ value: p.id, label: p.name }))}
              />
            </div>
          )}
        </div>
      )}
    </div>
  );
}

function SaveArranged({
  view,
  arranged,
  changed,
  onDone,
}: {
  view: Schemas["PlanView"];
  arranged: Arranged;
  changed: boolean;
  onDone: () => void;
}) {
  const may = useMay();
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: ({ arranged, version }: { arranged: Arranged; version: number; undoes?: boolean }) =>
      ask(client.PUT("/bookings/{id}/arranged", { params: { path: { id: view.booking.id } }, body: { version, arranged } })),
    onSuccess: async (saved, sent) => {
      await queries.invalidateQueries({ queryKey: keys.plan(view.booking.id) });
      void queries.invalidateQueries({ queryKey: keys.yard() });
      onDone();
      const before = view.booking.arranged ?? {};
      if (sent.undoes) say("As it was before.");
      else say("Plan saved.", () => keep.mutate({ arranged: before, version: saved.version, undoes: true }));
    },
  });
  return (
    <div className="no-print mt-3 flex flex-wrap items-center gap-2">
      {may("run the day") && !view.booking.washId && (
        <Button
          look={changed ? "act" : "plain"}
          disabled={!changed || keep.isPending}
          onClick={() => keep.mutate({ arranged, version: view.booking.version })}
        >
          {keep.isPending ? "Saving…" : "Save this crew and order"}
        </Button>
      )}
      <LinkButton to={`/plan/${view.booking.id}/print`}>
        <Printer size={18} aria-hidden /> Print
      </LinkButton>
      {keep.error && <Trouble error={keep.error} />}
    </div>
  );
}

/** Other ways to do it, side by side. */
function Others({ id, arranged, onTake }: { id: string; arranged: Arranged; onTake: (a: Arranged) => void }) {
  const me = useMe().data;
  const [open, setOpen] = useState(false);
  const ways = useQuery({
    queryKey: keys.whatIf(id, arranged),
    queryFn: () => ask(client.POST("/bookings/{id}/what-if", { params: { path: { id } }, body: arranged })),
    enabled: open,
    placeholderData: (last) => last,
  });
  return (
    <details className="no-print mt-2" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="font-semibold text-tide">What if?</summary>
      {ways.error && <Trouble error={ways.error} />}
      {ways.isPending && open && <p role="status">Working out the other ways…</p>}
      {ways.data && (
        <Table caption="Other ways to do the wash" head={["Way", "Planned", "Safe promise", "Risk of drying", "Costs", ""]}>
          {ways.data.map((w, i) => (
            <tr key={w.name}>
              <th scope="row" className="font-semibold">
                {sentence(w.name)}
                {!w.feasible && <span className="block font-normal text-rust">{w.why?.[0]}</span>}
              </th>
              <td className="num whitespace-nowrap">{w.feasible ? lasting(w.finish) : "cannot be done"}</td>
              <td className="num whitespace-nowrap">{w.feasible && lasting(w.p80)}</td>
              <td className="num">{w.feasible && `${Math.round(w.overrun * 100)} %`}</td>
              <td className="num">{w.feasible && money(w.cost, me?.currency ?? "")}</td>
              <td className="text-right">
                {w.arranged && w.feasible && i > 0 && (
                  <Button className="min-h-hit" onClick={() => w.arranged && onTake(w.arranged)} aria-label={`Do it this way: ${w.name}`}>
                    Do it this way
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </Table>
      )}
    </details>
  );
}
