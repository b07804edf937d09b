import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { AlertTriangle, CalendarDays, ChevronLeft, ChevronRight, Table2 } from "lucide-react";
import { type CSSProperties, type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { useMay } from "../api/shop";
import { dateOf, day as dayName, fullDay, hour, seconds, sentence } from "../kit/format";
import { Away, Button, Field, Head, inputLook, LinkButton, Loading, Panel, Select, Table, Tag, Trouble, useNarrow } from "../kit/kit";
import { Pulls, useLane, usePull } from "../ribbon/Pull";
import { Absences } from "./Absences";
import { Say } from "./Say";
import { keys } from "../api/keys";
import { useSearchParams } from "react-router";

type DayView = Schemas["DayView"];
type Visit = Schemas["DayVisit"];
interface Slot {
  start: number;
  place: string;
  washer: string;
}

const at = (view: DayView, s: number) => new Date(Date.parse(view.zero) + s * 1000);

/** The day: bays and people across the hours, with how long it stays wet behind them. */

const exportLook = "inline-flex min-h-hit items-center gap-2 px-2 font-semibold text-tide underline-offset-4 hover:underline";

/** Today as a calendar and as a table. */
const Exports = () => (
  <>
    <a className={exportLook} href="/api/day/export?format=ics">
      <CalendarDays size={18} aria-hidden /> Calendar
    </a>
    <a className={exportLook} href="/api/day/export?format=csv">
      <Table2 size={18} aria-hidden /> Table
    </a>
  </>
);

/** The day before, the day after, any day, and back to today. */
function WhichDay({ date, today, choose }: { date: string; today: boolean; choose: (date: string | undefined) => void }) {
  const by = (days: number) => new Date(Date.parse(date) + days * 86_400_000).toISOString().slice(0, 10);
  return (
    <div role="group" aria-label="Which day" className="flex items-center gap-1.5">
      <Button aria-label="The day before" className="px-2.5!" onClick={() => choose(by(-1))}>
        <ChevronLeft size={18} aria-hidden />
      </Button>
      <input
        type="date"
        aria-label="Day"
        className={`${inputLook} w-auto!`}
        value={date}
        onChange={(e) => choose(e.target.value || undefined)}
      />
      <Button aria-label="The day after" className="px-2.5!" onClick={() => choose(by(1))}>
        <ChevronRight size={18} aria-hidden />
      </Button>
      {!today && <Button onClick={() => choose(undefined)}>Today</Button>}
    </div>
  );
}

export function Day() {
  const [asked, setAsked] = useSearchParams();
  const date = asked.get("date") ?? "";
  const today = date === "";
  const lead = useMay()("run the day") && today; // another day is looked at, and changed by its bookings
  const narrow = useNarrow();
  const queries = useQueryClient();
  const day = useQuery({
    queryKey: keys.day(date),
    queryFn: () => ask(client.GET("/day", { params: { query: { ...(date && { date }) } } })),
    refetchInterval: 60_000,
  });
  const [picked, setPicked] = useState("");
  const trial = useMutation({
    mutationFn: ({ visit, slot }: { visit: Visit; slot: Slot }) =>
      ask(
        client.POST("/day/drop", {
          body: {
            bookingId: visit.booking.id,
            startsAt: at(day.data as DayView, slot.start).toISOString(),
            place: slot.place,
            washerId: slot.washer || undefined,
          },
        }),
      ),
  });
  const keep = useMutation({
    meta: { said: "Slot saved." },
    mutationFn: ({ visit, slot }: { visit: Visit; slot: Slot }) =>
      ask(
        client.PUT("/bookings/{id}/slot", {
          params: { path: { id: visit.booking.id } },
          body: {
            startsAt: at(day.data as DayView, slot.start).toISOString(),
            place: slot.place,
            washerId: slot.washer || undefined,
            version: visit.booking.version,
          },
        }),
      ),
    onSuccess: () => {
      trial.reset(); // before the day is fetched anew: a next try may begin meanwhile
      void queries.invalidateQueries({ queryKey: keys.day() });
      void queries.invalidateQueries({ queryKey: keys.yard() });
    },
  });
  if (day.isPending) return <Loading what="the day" />;
  if (!day.data) return <Trouble error={day.error} retry={() => void day.refetch()} />;
  const view = trial.data ?? day.data;
  const visit = view.visits.find((v) => v.booking.id === picked);
  const tryOut = (v: Visit, slot: Slot) => {
    setPicked(v.booking.id);
    trial.mutate({ visit: v, slot });
  };
  return (
    <>
      <Head title="Day" sub={`${fullDay(view.zero)}${today ? `, laid out at ${hour(at(view, view.now))}` : ""}. ${headline(view)}`}>
        <WhichDay date={dateOf(view.zero)} choose={(d) => setAsked(d ? { date: d } : {})} today={today} />
        <LinkButton to="/">Now</LinkButton>
        {today && <Exports />}
        {lead && <Better />}
      </Head>
      <div className="grid gap-4 xl:grid-cols-[minmax(0,1fr)_21rem]">
        <div className="grid min-w-0 content-start gap-4">
          <Panel>
            {narrow ? (
              <Cards view={view} picked={picked} onPick={setPicked} />
            ) : (
              <Board view={view} picked={picked} onPick={setPicked} onMove={lead ? tryOut : undefined} />
            )}
          </Panel>
          {trial.error && <Trouble error={trial.error} />}
          <Conflicts view={view} />
        </div>
        <div className="grid content-start gap-4">
          {visit ? (
            <Chosen
              key={visit.booking.id + visit.booking.version}
              view={view}
              visit={visit}
              lead={lead}
              trying={trial.variables && trial.data ? trial.variables : undefined}
              onTry={(slot) => tryOut(visit, slot)}
              onKeep={(slot) => keep.mutate({ visit: day.data.visits.find((v) => v.booking.id === picked) ?? visit, slot })}
              onLeave={() => trial.reset()}
              error={keep.error}
            />
          ) : (
            <Panel title="Vehicle">
              <p className="text-faded">
                Pick a vehicle on the board to see who washes it and when it is ready, or to give it another slot.
              </p>
            </Panel>
          )}
          {lead && !trial.data && <Absences people={view.people} />}
          <Outbox />
        </div>
        <div className="xl:col-span-2">
          <Care now={Date.parse(view.zero) + view.now * 1000} />
        </div>
      </div>
    </>
  );
}

function headline(view: DayView) {
  const late = view.visits.filter((v) => v.late >= 60).length;
  return late ? `${late} after ${late === 1 ? "its promise" : "their promises"}.` : "Every promise holds.";
}

/** The hours shown: from the first to the last thing that happens. */
function span(view: DayView): [number, number] {
  const from = Math.min(view.now, ...view.visits.map((v) => v.start));
  const to = Math.max(view.now + 3 * 3600, ...view.visits.map((v) => Math.min(v.end, 24 * 3600)));
  return [Math.floor(from / 3600) * 3600, Math.ceil(to / 3600) * 3600];
}

/** The board on a phone: the day's vehicles by the clock, each a card to pick. */
function Cards({ view, picked, onPick }: { view: DayView; picked: string; onPick: (id: string) => void }) {
  return (
    <ol className="grid gap-1.5" aria-label="The day by the clock">
      {view.visits.map((v) => (
        <li key={v.booking.id}>
          <button
            type="button"
            aria-pressed={picked === v.booking.id}
            onClick={() => onPick(v.booking.id)}
            className={`grid w-full grid-cols-[4.2rem_minmax(0,1fr)] gap-2 rounded-xl border-2 p-2.5 text-left ${look(v, picked === v.booking.id)}`}
          >
            <span className="num leading-tight">
              {hour(at(view, v.start))}
              <br />
              {hour(at(view, v.end))}
            </span>
            <span>
              <b>{v.booking.label}</b> <span className="num">{v.booking.plate}</span>
              <span className="block text-sm">
                {v.bayName}, {v.who.join(" and ") || "nobody yet"}
              </span>
              <span className="block text-sm">{v.says}</span>
            </span>
          </button>
        </li>
      ))}
    </ol>
  );
}

function Board({
  view,
  picked,
  onPick,
  onMove,
}: {
  view: DayView;
  picked: string;
  onPick: (id: string) => void;
  onMove?: (v: Visit, s: Slot) => void;
}) {
  const [from, to] = span(view);
  const x = (s: number) => `${((Math.max(from, Math.min(to, s)) - from) / (to - from)) * 100}%`;
  const hours = Array.from({ length: (to - from) / 3600 + 1 }, (_, i) => from + i * 3600);
  const bays = view.bays.map((b) => b.id);
  const lanes = useRef<HTMLDivElement>(null);
  const washer = (v: Visit) => v.booking.washer?.id ?? "";
  const pull = (id: string, lane: string | undefined, by: number) => {
    const v = view.visits.find((x) => x.booking.id === id);
    if (!v || !lanes.current) return;
    const start = v.start + (by / lanes.current.clientWidth) * (to - from);
    onMove?.(v, { start: Math.max(0, Math.round(start / 300) * 300), place: lane ?? v.bay, washer: washer(v) });
  };
  const key = (v: Visit, e: KeyboardEvent) => {
    const next = bays[(bays.indexOf(v.bay) + (e.key === "ArrowDown" ? 1 : bays.length - 1)) % bays.length] ?? v.bay;
    const slot = { start: v.start, place: v.bay, washer: washer(v) };
    if (e.key === "Enter" || e.key === " ") onPick(v.booking.id);
    else if (e.altKey && onMove && e.key === "ArrowRight") onMove(v, { ...slot, start: v.start + 900 });
    else if (e.altKey && onMove && e.key === "ArrowLeft") onMove(v, { ...slot, start: Math.max(0, v.start - 900) });
    else if (e.altKey && onMove && (e.key === "ArrowDown" || e.key === "ArrowUp")) onMove(v, { ...slot, place: next });
    else return;
    e.preventDefault();
  };
  const movable = (v: Visit) => onMove !== undefined && isPlanned(v);
  return (
    <Pulls onPull={pull}>
      <div className="grid grid-cols-[7.5rem_minmax(0,1fr)] gap-y-1" role="group" aria-label="Bays and people across the hours">
        <div className="self-end text-sm text-faded">suds stay wet outside</div>
        <Wet view={view} x={x} from={from} to={to} />
        <div />
        <div ref={lanes} className="relative h-5 text-xs text-faded">
          {hours.map((h) => (
            <span key={h} className="num absolute -translate-x-1/2 first:translate-x-0 last:-translate-x-full" style={{ left: x(h) }}>
              {hour(at(view, h))}
            </span>
          ))}
        </div>
        {view.bays.map((b) => (
          <div key={b.id} className="contents">
            <div className="self-center truncate pr-2 font-semibold">{b.name}</div>
            <BayLane id={b.id}>
              <Lines hours={hours} x={x} />
              <Shut spans={b.shut} x={x} why="rain" />
              {view.visits
                .filter((v) => v.bay === b.id)
                .map((v) => (
                  <Car
                    key={v.booking.id}
                    v={v}
                    view={view}
                    fixed={!movable(v)}
                    picked={picked === v.booking.id}
                    onPick={() => onPick(v.booking.id)}
                    onKeyDown={(e) => key(v, e)}
                    style={{ left: x(v.start), width: `max(1.5rem, calc(${x(v.end)} - ${x(v.start)}))` }}
                  />
                ))}
            </BayLane>
          </div>
        ))}
        <div className="pt-2 text-sm text-faded">hands on</div>
        <div />
        {view.people.map((p) => (
          <div key={p.person.id} className="contents">
            <a
              className="hit flex items-center truncate pr-2 underline-offset-4 hover:underline"
              href={`/api/day/export?format=ics&person=${p.person.id}`}
              title={`${p.person.name}: the shift as a calendar`}
            >
              {p.person.name}
            </a>
            <div className="relative h-7 self-center rounded-md bg-chalk">
              <Lines hours={hours} x={x} />
              <Shut spans={p.shut} x={x} why="not there" />
              {stretches(view, p.person.id).map((s) => (
                <div
                  key={s.job + s.start}
                  className={`absolute inset-y-1 overflow-hidden rounded px-1 text-xs leading-5 whitespace-nowrap ${s.job === picked ? "bg-tide text-on-tide" : "bg-ink text-paper"}`}
                  style={{ left: x(s.start), width: `calc(${x(s.end)} - ${x(s.start)})` }}
                  title={`${p.person.name}: ${s.plate}, ${hour(at(view, s.start))} to ${hour(at(view, s.end))}`}
                >
                  {s.plate}
                </div>
              ))}
            </div>
          </div>
        ))}
      </div>
    </Pulls>
  );
}

/** A bay across the hours: what is pulled here is washed here. */
function BayLane({ id, children }: { id: string; children: ReactNode }) {
  return (
    <div ref={useLane(id, false)} data-bay={id} className="relative h-14 rounded-md bg-chalk">
      {children}
    </div>
  );
}

const carLook =
  "absolute inset-y-1 touch-none overflow-hidden rounded-lg border-2 px-1.5 py-0.5 text-left text-sm leading-tight focus-visible:z-20";

/** A vehicle on the board. */
function Car({
  v,
  view,
  fixed,
  picked,
  onPick,
  onKeyDown,
  style,
}: {
  v: Visit;
  view: DayView;
  fixed: boolean;
  picked: boolean;
  onPick: () => void;
  onKeyDown: (e: KeyboardEvent) => void;
  style: CSSProperties;
}) {
  const { ref, onPointerDown, pulled, transform } = usePull(v.booking.id, fixed);
  const when = `${hour(at(view, v.start))} to ${hour(at(view, v.end))}`;
  const where = `${v.bayName}, ${v.who.join(" and ") || "nobody yet"}. ${v.says}`;
  return (
    <button
      ref={ref}
      type="button"
      data-visit={v.booking.plate}
      aria-pressed={picked}
      aria-label={[`${v.late >= 60 ? "! " : ""}${v.booking.plate} ${firstNames(v)}, ${v.booking.label}: ${when}`, where].join(", ")}
      onPointerDown={onPointerDown}
      onClick={onPick}
      onKeyDown={onKeyDown}
      className={`${carLook} ${look(v, picked)} ${pulled ? "z-20 opacity-80" : ""}`}
      style={{ ...style, transform }}
    >
      <b className="num block whitespace-nowrap">
        {v.late >= 60 && "! "}
        {v.booking.plate}
      </b>{" "}
      <span className="block whitespace-nowrap">{firstNames(v)}</span>
    </button>
  );
}

const isPlanned = (v: Visit) => v.booking.stage === "booked" || v.booking.stage === "looked over";

const firstNames = (v: Visit) => v.who.map((w) => w.split(" ")[0]).join(", ");

function look(v: Visit, picked: boolean) {
  if (picked) return "z-10 border-tide bg-tide text-on-tide";
  if (v.late >= 60) return "border-rust bg-rust-wash text-rust";
  if (v.booking.stage === "in the bay") return "border-tide bg-tide-wash text-ink";
  if (v.booking.washId) return "border-moss bg-moss-wash text-moss";
  return `border-ink bg-paper text-ink ${v.assumed ? "border-dashed" : ""}`;
}

function Lines({ hours, x }: { hours: number[]; x: (s: number) => string }) {
  return hours.map((h) => <div key={h} className="absolute inset-y-0 w-px bg-line" style={{ left: x(h) }} />);
}

function Shut({ spans, x, why }: { spans: Schemas["Span"][]; x: (s: number) => string; why: string }) {
  return spans.map((s) => (
    <div
      key={s.start}
      className="shut absolute inset-y-0 overflow-hidden text-xs text-faded"
      style={{ left: x(s.start), width: `calc(${x(s.end)} - ${x(s.start)})` }}
      title={why}
    >
      <span className="sr-only">{why}</span>
    </div>
  ));
}

/** How long what a mitt leaves stays wet under the open sky, hour by hour, on the panel that dries first. */
function Wet({ view, x, from, to }: { view: DayView; x: (s: number) => string; from: number; to: number }) {
  return (
    <div className="relative h-9" role="img" aria-label="How long suds stay wet outside, hour by hour">
      {view.hours.map((h) => {
        const s = (Date.parse(h.at) - Date.parse(view.zero)) / 1000;
        if (s + 3600 <= from || s >= to) return null;
        const wet = Math.min(h.top, ...Object.values(h.sides));
        return (
          <div
            key={h.at}
            className={`absolute bottom-0 border-r border-paper text-center text-xs ${h.weather.rain > 0 ? "shut" : h.good ? "bg-tide-wash" : "bg-line"}`}
            style={{
              left: x(s),
              width: `calc(${x(s + 3600)} - ${x(s)})`,
              height: `${Math.max(16, Math.sqrt(Math.min(wet, 1800) / 1800) * 36)}px`,
            }}
            title={`${hour(h.at)}: ${h.verdict}`}
          >
            {h.weather.rain > 0 ? "rain" : wet >= 1800 ? "30 min +" : seconds(wet >= 120 ? Math.round(wet / 60) * 60 : wet)}
          </div>
        );
      })}
    </div>
  );
}

/** Somebody's work, joined vehicle by vehicle. */
function stretches(view: DayView, person: string) {
  const joined: { job: string; plate: string; start: number; end: number }[] = [];
  for (const s of view.slots.filter((x) => x.who === person)) {
    const last = joined.at(-1);
    if (last && last.job === s.job && s.start - last.end < 240) last.end = s.end;
    else
      joined.push({
        job: s.job ?? "",
        plate: view.visits.find((v) => v.booking.id === s.job)?.booking.plate ?? "",
        start: s.start,
        end: s.end,
      });
  }
  return joined;
}

function Conflicts({ view }: { view: DayView }) {
  if (view.conflicts.length === 0) return null;
  return (
    <ul className="grid gap-1 rounded-xl border-2 border-rust bg-rust-wash px-4 py-2.5 text-rust" aria-label="What does not work out">
      {view.conflicts.map((c) => (
        <li key={c} className="flex items-start gap-2 font-semibold">
          <AlertTriangle size={19} className="mt-0.5 shrink-0" aria-hidden /> {c}
        </li>
      ))}
    </ul>
  );
}

/** The vehicle that was picked: what is planned, and where else it could go. */
function Chosen({
  view,
  visit: v,
  lead,
  trying,
  onTry,
  onKeep,
  onLeave,
  error,
}: {
  view: DayView;
  visit: Visit;
  lead: boolean;
  trying?: { visit: Visit; slot: Slot };
  onTry: (s: Slot) => void;
  onKeep: (s: Slot) => void;
  onLeave: () => void;
  error: unknown;
}) {
  const [find, setFind] = useState(false);
  const b = v.booking;
  const free = lead && isPlanned(v);
  return (
    <Panel title={b.label} aside={<span className="num">{b.plate}</span>}>
      <p className="mb-1">
        <span className="num">
          {hour(at(view, v.start))} to {hour(at(view, v.end))}
        </span>
        , {v.bayName}, {v.who.join(" and ") || "nobody yet"}
      </p>
      <p className={`mb-1 font-semibold ${v.late >= 60 ? "text-rust" : ""}`}>{v.says}</p>
      <p className="mb-2 text-sm text-faded">
        {v.title && `${v.title}. `}
        {v.assumed && "Not looked over yet: two weeks of dry road are assumed. "}
        {v.fixed && "Its slot was given by hand. "}Promised {hour(b.promisedAt)}.
      </p>
      {trying && trying.visit.booking.id === b.id && (
        <div className="mb-3 rounded-xl bg-tide-wash p-2.5" role="status">
          <p className="mb-2">
            Tried from {hour(at(view, trying.slot.start))} in {view.bays.find((x) => x.id === trying.slot.place)?.name}.{" "}
            {view.conflicts.length === 0 && "No promise breaks."}
          </p>
          <div className="flex flex-wrap gap-2">
            <Button look="act" onClick={() => onKeep(trying.slot)}>
              Give it this slot
            </Button>
            <Button onClick={onLeave}>Leave it as it was</Button>
          </div>
        </div>
      )}
      {error ? <Trouble error={error} /> : null}
      {free && <ByHand key={v.start + v.bay} view={view} visit={v} onTry={onTry} />}
      {free && (
        <div className="mt-3 border-t border-line pt-3">
          <Button look={find ? "plain" : "act"} onClick={() => setFind(true)}>
            Find a slot
          </Button>
          {find && <Proposals view={view} id={b.id} onTry={onTry} />}
        </div>
      )}
      <div className="mt-3 flex flex-wrap gap-1.5 border-t border-line pt-3">
        <Say b={b} />
      </div>
      <Tell b={b} />
    </Panel>
  );
}

function ByHand({ view, visit: v, onTry }: { view: DayView; visit: Visit; onTry: (s: Slot) => void }) {
  const [slot, setSlot] = useState<Slot>({ start: v.start, place: v.bay, washer: v.booking.washer?.id ?? "" });
  const minutes = Math.round(slot.start / 60);
  return (
    <details>
      <summary className="font-semibold text-tide">Move it by hand</summary>
      <div className="mt-2 grid gap-2">
        <Field label="From">
          <input
            type="time"
            className={inputLook}
            value={`${String(Math.floor(minutes / 60) % 24).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`}
            onChange={(e) => {
              const [h = 0, m = 0] = e.target.value.split(":").map(Number);
              setSlot({ ...slot, start: h * 3600 + m * 60 });
            }}
          />
        </Field>
        <Select
          label="Where"
          value={slot.place}
          onChange={(place) => setSlot({ ...slot, place })}
          options={view.bays.map((b) => ({ value: b.id, label: b.name }))}
        />
        <Select
          label="Who"
          value={slot.washer}
          onChange={(washer) => setSlot({ ...slot, washer })}
          options={[{ value: "", label: "whoever can" }, ...view.people.map((p) => ({ value: p.person.id, label: p.person.name }))]}
        />
        <Button onClick={() => onTry(slot)}>Try it</Button>
      </div>
    </details>
  );
}

function Proposals({ view, id, onTry }: { view: DayView; id: string; onTry: (s: Slot) => void }) {
  const found = useQuery({
    queryKey: keys.slots(id),
    queryFn: () => ask(client.POST("/day/slots", { body: { bookingId: id } })),
    gcTime: 0,
  });
  if (found.error) return <Trouble error={found.error} />;
  if (!found.data)
    return (
      <p role="status" className="mt-2 text-faded">
        Trying every place and person…
      </p>
    );
  if (found.data.length === 0)
    return <p className="mt-2 font-semibold">Nobody can wash it today in any place. Book it for another day, or change a shift.</p>;
  return (
    <ol className="mt-2 grid gap-2">
      {found.data.map((p) => (
        <li key={p.place + p.washer.id} className="rounded-xl border border-line p-2.5">
          <p>
            <b className="num">
              {hour(p.startsAt)} to {hour(p.readyAt)}
            </b>
            , {p.called}, {p.washer.name}
          </p>
          <p className="text-sm text-faded">
            {p.says} {p.delays > 0 && `Others finish ${p.delays} min later in all.`} Risk of drying: {Math.round(p.risk * 100)} %.
          </p>
          <Button
            className="mt-1.5 min-h-hit"
            onClick={() => onTry({ start: (Date.parse(p.startsAt) - Date.parse(view.zero)) / 1000, place: p.place, washer: p.washer.id })}
          >
            Try it
          </Button>
        </li>
      ))}
    </ol>
  );
}

/** What the customer is told is read, and changed where it is not so, before it is sent. */
function Tell({ b }: { b: Schemas["BookingCard"] }) {
  const may = useMay();
  const queries = useQueryClient();
  const [text, setText] = useState<string>();
  const draft = useMutation({
    mutationFn: () => ask(client.GET("/bookings/{id}/notice", { params: { path: { id: b.id } } })),
    onSuccess: (d) => setText(d.text),
  });
  const tell = useMutation({
    mutationFn: (words: string) => ask(client.POST("/bookings/{id}/notice", { params: { path: { id: b.id } }, body: { text: words } })),
    onSuccess: () => {
      setText(undefined);
      return queries.invalidateQueries({ queryKey: keys.outbox() });
    },
  });
  if (!may("look over")) return null;
  return (
    <div className="mt-3 grid gap-2 border-t border-line pt-3">
      {text === undefined ? (
        <Button disabled={draft.isPending} onClick={() => draft.mutate()}>
          Tell the customer
        </Button>
      ) : (
        <>
          <Field
            label="What the customer is told"
            hint={text ? "As things stand now; change what is not so" : "There are no usual words for this"}
          >
            <textarea
              className={`${inputLook} h-auto! py-2`}
              rows={3}
              maxLength={500}
              value={text}
              onChange={(e) => setText(e.target.value)}
            />
          </Field>
          <div className="flex flex-wrap gap-2">
            <Button look="act" disabled={tell.isPending || !text.trim()} onClick={() => tell.mutate(text)}>
              Tell them this
            </Button>
            <Button onClick={() => setText(undefined)}>Leave it</Button>
          </div>
        </>
      )}
      {tell.data && text === undefined && (
        <p role="status" className="text-sm">
          {tell.data.waits ? "Tell them yourself, then tick it off under “Told today”: " : "Handed over: "}“{tell.data.text}”
        </p>
      )}
      {(draft.error ?? tell.error) && <Trouble error={draft.error ?? tell.error} />}
    </div>
  );
}

function Outbox() {
  const box = useQuery({ queryKey: keys.outbox(), queryFn: () => ask(client.GET("/outbox")) });
  const out = box.data ?? [];
  const queries = useQueryClient();
  const told = useMutation({
    meta: { said: "Told." },
    mutationFn: (id: string) => ask(client.POST("/outbox/{id}/told", { params: { path: { id } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.outbox() }),
  });
  if (box.error && !box.data) return <Away title="Told today" query={box} />;
  if (out.length === 0) return null;
  return (
    <Panel title="Told today">
      {told.error && <Trouble error={told.error} />}
      <ul className="grid gap-1.5 text-sm">
        {out.map((n) => (
          <li key={n.at + n.plate}>
            <span className="num">{hour(n.at)}</span> <b>{n.plate}</b> {n.text} <span className="text-faded">{n.by}</span>
            {n.waits && (
              <Button className="ml-2" disabled={told.isPending} aria-label={`Told: ${n.plate}`} onClick={() => told.mutate(n.id)}>
                I have told them
              </Button>
            )}
          </li>
        ))}
      </ul>
    </Panel>
  );
}

/** Goes on looking for a better day; it can be stopped, and the best so far is kept. */
function Better() {
  const [on, setOn] = useState(false);
  const [told, setTold] = useState<Schemas["Better"]>();
  const queries = useQueryClient();
  useEffect(() => {
    if (!on) return;
    const source = new EventSource("/api/day/improve");
    source.onmessage = (e: MessageEvent<string>) => {
      const next = JSON.parse(e.data) as Schemas["Better"];
      setTold(next);
      if (next.done) setOn(false);
    };
    source.onerror = () => setOn(false);
    return () => {
      source.close();
      void queries.invalidateQueries({ queryKey: keys.day() });
    };
  }, [on, queries]);
  const says: ReactNode =
    told &&
    `last one ready ${told.finish}, ${told.late ? `${told.late} min late in all` : "no promise broken"}, at most ${Math.round(told.gap * 100)} % from the best`;
  return (
    <div className="flex items-center gap-2">
      {on && told && (
        <progress className="h-2 w-24 accent-(--tide)" max={told.of} value={told.seconds} aria-label="Looking for a better day" />
      )}
      <Button onClick={() => setOn(!on)}>{on ? "Stop, keep the best" : "Look for a better day"}</Button>
      <span className="sr-only" role="status">
        {told && !on && "Done: "}
        {says}
      </span>
      {told && <span className="max-w-56 text-sm text-faded">{says}</span>}
    </div>
  );
}

function Care({ now }: { now: number }) {
  const all = useQuery({
    queryKey: keys.care(),
    queryFn: () => ask(client.GET("/care", { params: { query: { most: 8 } } })),
    staleTime: 300_000,
  });
  const care = all.data ?? [];
  if (all.error && !all.data) return <Away title="Upcoming care" query={all} />;
  if (care.length === 0) return null;
  const soon = now + 7 * 86_400_000;
  return (
    <Panel title="Upcoming care">
      <Table stacks caption="What every vehicle needs next" head={["Vehicle", "Last washed", "Next", "Then"]}>
        {care.map((c) => (
          <tr key={c.vehicleId}>
            <th scope="row" className="font-normal">
              <b>{c.label}</b> <span className="num text-faded">{c.plate}</span>
            </th>
            <td data-head="Last washed" className="whitespace-nowrap max-sm:col-span-2">
              {dayName(c.washed)}
            </td>
            {[0, 1].map((i) => {
              const due = c.due[i];
              return (
                <td key={i} data-head={i === 0 ? "Next" : "Then"}>
                  {due && (
                    <>
                      <Tag tone={Date.parse(due.at) <= now ? "rust" : Date.parse(due.at) < soon ? "amber" : "plain"}>
                        {sentence(due.kind)}, {Date.parse(due.at) <= now ? "due now" : dayName(due.at)}
                      </Tag>
                      <span className="block text-sm text-faded">{due.because}</span>
                    </>
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </Table>
    </Panel>
  );
}
