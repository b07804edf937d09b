import { type HTMLAttributes, type KeyboardEvent, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { clock, hour, minutes, seconds } from "../kit/format";
import { useNarrow } from "../kit/kit";
import { Pulls, useLane, usePull } from "./Pull";
import { pointedAt, putOn, Strip, type StripProps } from "./Strip";

type Slot = Schemas["Slot"];
type Soak = Schemas["Soak"];

interface Props extends StripProps {
  /** Somebody moved a block: to a person, to begin no sooner than some seconds. */
  onMove?: (id: string, person: string, start: number) => void;
}

/** Soaks shorter than this, s, are put on and worked in at once: they would only clutter. */
const shortestSoak = 45;
const step = 60;

/** What is put on piece by piece, wheel by wheel or part by part, is one thing on the car: that of its step. */
const whole = (s: Soak) => `${s.job ?? ""} ${putOn(s)}`;

/** A row for each thing on the car; different ones lie under one another where they work at the same time. */
function rowsOf(soaks: Soak[]) {
  const free: number[] = [];
  const own = new Map<string, number>();
  return soaks.map((s) => {
    const known = own.get(whole(s));
    const open = free.findIndex((until) => until <= s.start);
    const row = known ?? (open < 0 ? free.length : open);
    own.set(whole(s), row);
    free[row] = Math.max(free[row] ?? 0, s.end, s.latest) + 20;
    return { row, first: known === undefined };
  });
}

/** The ribbon with a lane for each pair of hands and each shared machine: solid is hands on, woven is product working with its earliest and latest rinse, thin is
 *  waiting. What decides the finish is filled; what has slack is open, with the slack as a tail. */
export function Lanes(props: Props) {
  const narrow = useNarrow();
  return narrow ? <Strip {...props} /> : <Wide {...props} />;
}

function Wide({ slots, soaks, people, names, finish, zero, selected, onPick, onMove, now, marked }: Props) {
  const total = Math.max(finish, 60) * 1.02;
  const x = (s: number) => `${(s / total) * 100}%`;
  const ribbon = useRef<HTMLDivElement>(null);
  const hours = useRef<HTMLDivElement>(null);
  const [stop, setStop] = useState("");
  // One stop for the Tab key; the arrows go from block to block.
  const tabStop = slots.some((s) => s.id === stop) ? stop : (slots.find((s) => s.id === selected)?.id ?? slots[0]?.id);
  const walk = (from: Slot, key: string) => {
    const lanes = [...people, undefined].map((p) => slots.filter((s) => s.who === p)).filter((l) => l.length > 0);
    const lane = lanes.findIndex((l) => l.includes(from));
    const mine = lanes[lane] ?? [];
    const other = lanes[lane + (key === "ArrowDown" ? 1 : -1)];
    const near = other?.reduce((a, b) => (Math.abs(b.start - from.start) < Math.abs(a.start - from.start) ? b : a));
    const to = key === "ArrowLeft" ? mine[mine.indexOf(from) - 1] : key === "ArrowRight" ? mine[mine.indexOf(from) + 1] : near;
    if (!to) return;
    setStop(to.id);
    ribbon.current?.querySelector<HTMLElement>(`[data-slot="${CSS.escape(to.id)}"]`)?.focus();
  };
  const machines = [...new Set(slots.flatMap((s) => s.machines ?? []))].sort();
  const shown = soaks.filter((s) => s.end - s.start >= shortestSoak || !s.fits || putOn(s) === marked);
  const rows = rowsOf(shown);
  const every = total > 5400 ? 900 : total > 2400 ? 600 : 300;
  const ticks = Array.from({ length: Math.floor(total / every) + 1 }, (_, i) => i * every);
  const wide = (
    <div
      className="relative grid grid-cols-[7.5rem_minmax(0,1fr)] items-center gap-y-1"
      role="group"
      aria-label="The wash as a ribbon of time"
    >
      <div />
      <div ref={hours} className="relative h-5 text-xs text-faded">
        {ticks.map((t) => (
          <span key={t} className="num absolute -translate-x-1/2 first:translate-x-0 max-sm:even:hidden" style={{ left: x(t) }}>
            {hour(new Date(Date.parse(zero) + t * 1000))}
          </span>
        ))}
      </div>
      {people.map((person) => (
        <PersonLane
          key={person}
          person={person}
          called={names[person] ?? person}
          people={people}
          slots={slots.filter((s) => s.who === person)}
          total={total}
          ticks={ticks}
          {...{ zero, selected, onPick, onMove, now, tabStop, walk }}
        />
      ))}
      {slots.some((s) => !s.who) && (
        <PersonLane
          person=""
          called="by itself"
          people={[]}
          slots={slots.filter((s) => !s.who)}
          total={total}
          ticks={ticks}
          {...{ zero, selected, onPick, now, tabStop, walk }}
        />
      )}
      {shown.length > 0 && (
        <>
          <div className="text-sm text-faded">on the car</div>
          <div className="relative" style={{ height: `${(Math.max(...rows.map((r) => r.row), 0) + 1) * 1.15}rem` }}>
            {shown.map((s, i) => (
              <div
                key={s.from + s.to}
                className={`absolute h-[1rem] ${rows[i]?.first ? "z-10" : ""} ${putOn(s) === marked ? pointedAt : ""}`}
                style={{ left: x(s.start), width: x(Math.max(s.latest, s.end) - s.start), top: `${(rows[i]?.row ?? 0) * 1.15}rem` }}
                title={`${s.title}: rinse from ${hour(at(zero, s.earliest))} to ${hour(at(zero, s.latest))}`}
              >
                <div
                  className={`weave absolute inset-y-0 left-0 overflow-hidden rounded-sm border px-1 text-xs leading-[0.9rem] whitespace-nowrap ${s.fits ? "border-amber" : "border-rust"}`}
                  style={{ width: `${(100 * (s.end - s.start)) / Math.max(1, Math.max(s.latest, s.end) - s.start)}%` }}
                >
                  {rows[i]?.first && <span className="rounded-sm bg-paper px-0.5">{s.whole}</span>}
                </div>
                <Mark at={s.earliest} of={s} look="bg-moss" />
                <Mark at={s.latest} of={s} look="bg-rust" />
              </div>
            ))}
          </div>
        </>
      )}
      {machines.map((m) => (
        <div key={m} className="contents">
          <div className="text-sm text-faded">{names[m] ?? m}</div>
          <div className="relative h-3 rounded-sm bg-chalk">
            {slots
              .filter((s) => s.machines?.includes(m))
              .map((s) => (
                <div
                  key={s.id}
                  className="absolute inset-y-0 rounded-sm bg-faded"
                  style={{ left: x(s.start), width: `max(2px, ${x(s.end - s.start)})` }}
                  title={`${names[m] ?? m}: ${s.title}`}
                />
              ))}
          </div>
        </div>
      ))}
    </div>
  );
  if (!onMove) return wide;
  const pull = (id: string, lane: string | undefined, by: number) => {
    const s = slots.find((x) => x.id === id);
    if (!s || !hours.current) return;
    const start = s.start + (by / hours.current.clientWidth) * total;
    onMove(id, lane ?? s.who ?? "", Math.max(0, Math.round(start / 15) * 15));
  };
  return <Pulls onPull={pull}>{wide}</Pulls>;
}

const at = (zero: string, s: number) => new Date(Date.parse(zero) + s * 1000);

function Mark({ at: t, of, look }: { at: number; of: Soak; look: string }) {
  const length = Math.max(1, Math.max(of.latest, of.end) - of.start);
  return (
    <div className={`absolute -inset-y-0.5 w-[3px] -translate-x-1/2 ${look}`} style={{ left: `${(100 * (t - of.start)) / length}%` }} />
  );
}

interface LaneProps extends Pick<Props, "zero" | "selected" | "onPick" | "onMove" | "now"> {
  person: string;
  called: string;
  people: string[];
  slots: Slot[];
  total: number;
  ticks: number[];
  tabStop?: string;
  walk: (from: Slot, key: string) => void;
}

function PersonLane({ person, called, people, slots, total, ticks, zero, selected, onPick, onMove, now, tabStop, walk }: LaneProps) {
  const lane = useLane(person, people.length === 0);
  const x = (s: number) => `${(s / total) * 100}%`;
  const first = slots[0]?.start ?? 0;
  const last = Math.max(0, ...slots.map((s) => s.end));
  const key = (s: Slot, e: KeyboardEvent) => {
    const other = people[(people.indexOf(person) + (e.key === "ArrowDown" ? 1 : people.length - 1)) % people.length] ?? person;
    if (e.key === "Enter" || e.key === " ") onPick?.(s.id);
    else if (e.altKey && onMove && e.key === "ArrowRight") onMove(s.id, person, s.start + step);
    else if (e.altKey && onMove && e.key === "ArrowLeft") onMove(s.id, person, Math.max(0, s.start - step));
    else if (e.altKey && onMove && (e.key === "ArrowDown" || e.key === "ArrowUp")) onMove(s.id, other, s.start);
    else if (e.key.startsWith("Arrow") && !e.altKey) walk(s, e.key);
    else return;
    e.preventDefault();
  };
  return (
    <>
      <div className="truncate pr-2 font-semibold">{called}</div>
      <div ref={lane} data-lane={called} className="relative h-12 rounded-md bg-chalk">
        {ticks.map((t) => (
          <div key={t} className="absolute inset-y-0 w-px bg-line" style={{ left: x(t) }} />
        ))}
        {last > first && (
          <div className="absolute top-1/2 border-t-4 border-dotted border-faded" style={{ left: x(first), width: x(last - first) }} />
        )}
        {slots.map((s) => (
          <div key={s.id} className="contents">
            {s.slack >= 30 && (
              <div
                className="absolute top-[60%] h-2 border-r-2 border-b-2 border-ink"
                style={{ left: x(s.end), width: x(Math.min(s.slack, total - s.end)) }}
                aria-hidden
              />
            )}
            <Block
              picked={onPick && selected === s.id}
              tabIndex={s.id === tabStop ? 0 : -1}
              aria-label={`${s.title}, ${called}, ${hour(at(zero, s.start))} for ${seconds(s.end - s.start)}${s.critical ? ", decides the finish" : `, ${seconds(s.slack)} of slack`}`}
              title={`${s.title}: ${clock(s.start)} to ${clock(s.end)}. ${s.because}`}
              fixed={!onMove || people.length === 0}
              onClick={() => onPick?.(s.id)}
              onKeyDown={(e) => key(s, e)}
              data-slot={s.id}
              className={`absolute inset-y-1 touch-none overflow-hidden rounded border-2 px-1 text-left text-sm leading-tight focus-visible:z-20 ${selected === s.id ? "z-10 border-tide bg-tide text-on-tide" : s.critical ? "border-ink bg-ink text-paper" : "border-ink bg-paper text-ink"}`}
              style={{
                left: x(s.start),
                width: `max(6px, ${x(s.end - s.start)})`,
              }}
            >
              {(s.end - s.start) / total > 0.03 && s.title}
            </Block>
          </div>
        ))}
        {now !== undefined && <div className="absolute -inset-y-1 w-[3px] bg-tide" style={{ left: x(now) }} />}
      </div>
    </>
  );
}

interface BlockProps extends HTMLAttributes<HTMLElement> {
  picked: boolean | undefined;
  fixed: boolean;
  "data-slot": string;
}

/** A block that can be picked is a button; where nothing can be picked it only shows. */
function Block({ picked, tabIndex, fixed, className = "", style, ...rest }: BlockProps) {
  const { ref, onPointerDown, pulled, transform } = usePull(rest["data-slot"], fixed);
  if (picked === undefined) return <div role="img" className={className} style={style} {...rest} />;
  return (
    <button
      ref={ref}
      type="button"
      data-scale
      aria-pressed={picked}
      tabIndex={tabIndex}
      onPointerDown={onPointerDown}
      className={`${className} ${pulled ? "z-20 opacity-80" : ""}`}
      style={{ ...style, transform }}
      {...rest}
    />
  );
}

/** What the ribbon's marks mean. */
export function LanesKey() {
  const entries = [
    [<b key="a" className="inline-block h-3.5 w-6 rounded-sm bg-ink align-middle" />, "hands on, decides the finish"],
    [
      <b key="b" className="inline-block h-3.5 w-6 rounded-sm border-2 border-ink bg-paper align-middle" />,
      "hands on, with slack behind it",
    ],
    [<b key="c" className="weave inline-block h-3.5 w-6 rounded-sm border border-amber align-middle" />, "product working"],
    [<b key="d" className="inline-block h-3.5 w-[3px] bg-moss align-middle" />, "earliest rinse"],
    [<b key="e" className="inline-block h-3.5 w-[3px] bg-rust align-middle" />, "latest rinse"],
    [<b key="f" className="inline-block w-6 border-t-4 border-dotted border-faded align-middle" />, "waiting"],
  ] as const;
  return (
    <p className="mt-2 flex flex-wrap gap-x-4 gap-y-1 text-sm text-faded">
      {entries.map(([mark, text]) => (
        <span key={text}>
          {mark} {text}
        </span>
      ))}
    </p>
  );
}

export const lasting = (s: number) => minutes(Math.round(s / 30) / 2);
