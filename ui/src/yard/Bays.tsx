import { AlertTriangle, Gem, LifeBuoy } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { usePeople } from "../api/shop";
import { alarm } from "../kit/alarm";
import { clock, hour, minutes, plural } from "../kit/format";

type Card = Schemas["BookingCard"];
type Pulse = Schemas["Pulse"];
type Running = Card & { pulse: Pulse };

/** Now by the shop's clock, every second: what the server said, and the time since. */
function useShopTime(said: string) {
  const [at, setAt] = useState(() => Date.parse(said));
  useEffect(() => {
    const start = Date.parse(said) - performance.now();
    const tick = () => setAt(start + performance.now());
    tick();
    const timer = setInterval(tick, 1000);
    return () => clearInterval(timer);
  }, [said]);
  return at;
}

/** Every wash under way as a strip of time, those that need somebody first. It follows the taps as they come. */
export function Bays({ bookings, now }: { bookings: Card[]; now: string }) {
  const at = useShopTime(now);
  const people = usePeople().data ?? [];
  const name = (id: string | undefined) => people.find((p) => p.id === id)?.name ?? "somebody";
  const running = bookings.filter((b): b is Running => b.stage === "in the bay" && b.pulse !== undefined && !b.pulse.finished);
  useCalled(running);
  if (running.length === 0) return null;
  running.sort((a, b) => need(b, at) - need(a, at) || b.lateBy - a.lateBy);
  const from = Math.min(...running.map((b) => Date.parse(b.pulse.started ?? b.arrivesAt)), at - 10 * 60_000);
  const to = Math.max(...running.map((b) => Math.max(Date.parse(b.promisedAt), Date.parse(b.readyAt ?? b.promisedAt))), at + 10 * 60_000);
  return (
    <section aria-label="In the bays now" className="mb-4 rounded-2xl border border-line bg-paper p-4">
      <h2 className="mb-2">In the bays now</h2>
      <ul className="grid gap-3">
        {running.map((b) => (
          <li key={b.id} className="grid gap-x-4 gap-y-1 md:grid-cols-[17rem_minmax(0,1fr)_13rem]">
            <div className="min-w-0">
              <Link to={`/bay/${b.washId}`} className="hit flex items-center truncate font-semibold underline-offset-4 hover:underline">
                {b.label}
              </Link>
              <p className="truncate text-sm text-faded">
                {b.place.name} ·{" "}
                {b.pulse.hands.length === 0
                  ? "between steps"
                  : b.pulse.hands.map((h) => `${name(h.by)}: ${h.title}${h.paused ? ", paused" : silent(h, at)}`).join(" · ")}
              </p>
            </div>
            <Strip b={b} at={at} from={from} to={to} />
            <div className="text-sm">
              <Alerts b={b} at={at} name={name} />
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Of a hand whose step runs well past its time: since when nothing was tapped. */
const silent = (h: Running["pulse"]["hands"][number], at: number) =>
  h.askAt && at >= Date.parse(h.askAt) && h.since ? `, silent for ${minutes((at - Date.parse(h.since)) / 60_000)}` : "";

/** Sounds when somebody asks for help. */
function useCalled(running: Running[]) {
  const heard = useRef(new Set<string>());
  const calls = running.flatMap((b) => (b.pulse.help ? [`${b.id} ${b.pulse.help.at}`] : [])).join(",");
  useEffect(() => {
    const fresh = calls.split(",").filter((c) => c && !heard.current.has(c));
    fresh.forEach((c) => heard.current.add(c));
    if (fresh.length > 0) alarm(2);
  }, [calls]);
}

const soon = 120_000;

function need(b: Running, at: number) {
  if (b.pulse.help) return 3;
  if (b.pulse.wet.some((w) => w.dried || Date.parse(w.latest) - at < soon)) return 2;
  return b.pulse.asks > 0 || b.lateBy > 0 ? 1 : 0;
}

function Alerts({ b, at, name }: { b: Running; at: number; name: (id: string | undefined) => string }) {
  const { help, wet, asks } = b.pulse;
  const drying = wet.filter((w) => w.dried || Date.parse(w.latest) - at < soon).sort((x, y) => (x.latest < y.latest ? -1 : 1))[0];
  return (
    <>
      {help && (
        <p role="alert" className="flex gap-1.5 font-semibold text-rust">
          <LifeBuoy size={17} className="mt-0.5 shrink-0" aria-hidden /> {name(help.by)} needs help
        </p>
      )}
      {drying && (
        <p role="alert" className="flex gap-1.5 font-semibold text-rust">
          <AlertTriangle size={17} className="mt-0.5 shrink-0" aria-hidden />
          {drying.dried || Date.parse(drying.latest) < at
            ? `${drying.title} has dried`
            : `${drying.title} dries in ${clock((Date.parse(drying.latest) - at) / 1000)}`}
        </p>
      )}
      {asks > 0 && (
        <p className="flex gap-1.5 font-semibold text-amber-ink">
          <Gem size={17} className="mt-0.5 shrink-0" aria-hidden /> {plural(asks, "find")} to decide on
        </p>
      )}
      {b.readyAt && (
        <p className={b.lateBy > 0 ? "font-semibold text-rust" : "text-faded"}>
          ready <span className="num">{hour(b.readyAt)}</span>,{" "}
          {b.lateBy > 0
            ? `${minutes(b.lateBy)} after the promise`
            : `${minutes(Math.max(0, (Date.parse(b.promisedAt) - Date.parse(b.readyAt)) / 60_000))} in hand`}
        </p>
      )}
    </>
  );
}

/** The wash on the hours: done is solid, what is left an outline, product working is woven, the promise an upright. */
function Strip({ b, at, from, to }: { b: Running; at: number; from: number; to: number }) {
  const x = (t: number) => Math.max(0, Math.min(100, ((t - from) / (to - from)) * 100));
  const start = Date.parse(b.pulse.started ?? b.arrivesAt);
  const ready = Date.parse(b.readyAt ?? b.promisedAt);
  const late = b.lateBy > 0;
  return (
    <div
      role="img"
      aria-label={`${Math.round(b.progress * 100)} % done, ready ${hour(b.readyAt ?? "")}, promised ${hour(b.promisedAt)}`}
      className="relative h-9 self-center"
    >
      <span className="absolute top-3 h-3 rounded-l bg-ink" style={{ left: `${x(start)}%`, width: `${x(at) - x(start)}%` }} />
      <span
        className={`absolute top-3 h-3 rounded-r border-2 border-l-0 ${late ? "border-rust" : "border-ink"}`}
        style={{ left: `${x(at)}%`, width: `${Math.max(0, x(ready) - x(at))}%` }}
      />
      {b.pulse.wet.map((w) => (
        <span
          key={w.title + w.since}
          className="weave absolute top-0 h-2.5 rounded-sm border border-amber"
          style={{ left: `${x(Date.parse(w.since))}%`, width: `${Math.max(0.6, x(Date.parse(w.latest)) - x(Date.parse(w.since)))}%` }}
        />
      ))}
      <span className="absolute top-1.5 h-6 w-0.5 bg-ink" style={{ left: `${x(at)}%` }} />
      <span className="absolute top-1.5 h-6 w-1 bg-tide" style={{ left: `${x(Date.parse(b.promisedAt))}%` }} />
      <span className="num absolute top-6 -translate-x-full pr-1 text-xs text-tide" style={{ left: `${x(Date.parse(b.promisedAt))}%` }}>
        {hour(b.promisedAt)}
      </span>
    </div>
  );
}
