import type { Schemas } from "../api/client";
import { hour, minutes } from "../kit/format";

type Slot = Schemas["Slot"];
type Soak = Schemas["Soak"];

/** What a ribbon shows, lying or downward. */
export interface StripProps {
  slots: Slot[];
  soaks: Soak[];
  /** Lanes in their order: people by id. */
  people: string[];
  /** What people and machines are called, by id. */
  names: Record<string, string>;
  /** Titles of steps, by id: pieces of a step that follow each other are one block. */
  titles?: Record<string, string>;
  finish: number;
  zero: string;
  selected?: string;
  onPick?: (id: string) => void;
  /** Seconds since the beginning, on a running wash. */
  now?: number;
  /** Product that is pointed at, by the step that put it on. */
  marked?: string;
}

/** The step that put product on. */
export const putOn = (s: Soak) => s.step ?? s.from;

/** How product that is pointed at stands out. */
export const pointedAt = "outline-3 outline-offset-2 outline-tide";

/** Pixels a minute, and the least a block has for its words. */
const minute = 9;
const least = 22;

/** Pieces of a step in one pair of hands, one right after the other, are one. */
function joined(slots: Slot[], titles: Record<string, string>): Slot[] {
  const list: Slot[] = [];
  for (const s of [...slots].sort((a, b) => a.start - b.start)) {
    const last = list.at(-1);
    if (last && s.step && last.step === s.step) {
      list[list.length - 1] = { ...last, title: titles[s.step] ?? last.title, end: s.end, critical: last.critical || s.critical };
    } else list.push(s);
  }
  return list;
}

/** What a step puts on piece by piece is one thing on the car. */
function wholeSoaks(soaks: Soak[]): Soak[] {
  const by = new Map<string, Soak>();
  for (const s of soaks) {
    const key = putOn(s);
    const was = by.get(key);
    by.set(
      key,
      was
        ? {
            ...was,
            start: Math.min(was.start, s.start),
            end: Math.max(was.end, s.end),
            earliest: Math.min(was.earliest, s.earliest),
            latest: Math.max(was.latest, s.latest),
            fits: was.fits && s.fits,
          }
        : s,
    );
  }
  return [...by.values()];
}

/** Blocks begin where their time says; one too short for its words pushes those after it down. */
function placed(slots: Slot[]) {
  let free = 0;
  return [...slots]
    .sort((a, b) => a.start - b.start)
    .map((slot) => {
      const top = Math.max((slot.start / 60) * minute, free);
      const height = Math.max(((slot.end - slot.start) / 60) * minute, least);
      free = top + height + 2;
      return { slot, top, height };
    });
}

/** The ribbon on a phone: time runs downward, a column for each pair of hands, beside it what works on the car. */
export function Strip({ slots, soaks, people, names, titles = {}, finish, zero, selected, onPick, now, marked }: StripProps) {
  const at = (s: number) => hour(new Date(Date.parse(zero) + s * 1000));
  const columns = [...people, undefined].map((who) => ({
    who,
    blocks: placed(
      joined(
        slots.filter((s) => s.who === who),
        titles,
      ),
    ),
  }));
  const shown = columns.filter((c) => c.blocks.length > 0);
  const ends = shown.flatMap((c) => c.blocks.map((b) => b.top + b.height));
  const height = Math.max((finish / 60) * minute, ...ends) + 12;
  const every = finish > 5400 ? 900 : 600;
  const ticks = Array.from({ length: Math.floor(finish / every) + 1 }, (_, i) => i * every);
  return (
    <div role="group" aria-label="The wash as a strip of time, downward">
      <div className="flex gap-1.5 pl-12 text-sm font-semibold">
        {shown.map(({ who }) => (
          <span key={who ?? ""} className="min-w-0 flex-1 truncate">
            {who ? (names[who] ?? who) : "by itself"}
          </span>
        ))}
        <span className="w-16 text-faded">on the car</span>
      </div>
      <div className="relative" style={{ height }}>
        {ticks.map((t) => (
          <div key={t} className="absolute inset-x-0 border-t border-line" style={{ top: (t / 60) * minute }}>
            <span className="num text-xs text-faded">{at(t)}</span>
          </div>
        ))}
        <div className="absolute inset-y-0 right-0 left-12 flex gap-1.5">
          {shown.map(({ who, blocks }) => (
            <div key={who ?? ""} className="relative min-w-0 flex-1">
              {blocks.map((b) => (
                <Block key={b.slot.id} {...b} picked={b.slot.id === selected} says={at} onPick={onPick} />
              ))}
            </div>
          ))}
          <div className="relative w-16">
            {wholeSoaks(soaks).map((s) => (
              <Wet key={s.from + s.to} s={s} says={at} marked={putOn(s) === marked} />
            ))}
          </div>
        </div>
        {now !== undefined && now > 0 && now < finish && (
          <div className="absolute inset-x-0 border-t-2 border-tide" style={{ top: (now / 60) * minute }} aria-hidden />
        )}
      </div>
    </div>
  );
}

interface BlockProps {
  slot: Slot;
  top: number;
  height: number;
  picked: boolean;
  says: (s: number) => string;
  onPick: ((id: string) => void) | undefined;
}

function Block({ slot, top, height, picked, says, onPick }: BlockProps) {
  const look = slot.critical ? "bg-ink text-paper border-ink" : "bg-paper border-ink";
  const shape = `absolute inset-x-0 overflow-hidden rounded-md border-2 px-1.5 text-left text-sm leading-tight ${picked ? "border-tide bg-tide-wash text-ink" : look}`;
  const words = (
    <span className="line-clamp-2">
      {slot.title} <span className="num">{minutes((slot.end - slot.start) / 60)}</span>
    </span>
  );
  if (!onPick)
    return (
      <div className={shape} style={{ top, height }}>
        {words}
      </div>
    );
  return (
    <button
      type="button"
      data-scale
      data-slot={slot.id}
      aria-pressed={picked}
      aria-label={`${slot.title}: ${says(slot.start)} to ${says(slot.end)}`}
      onClick={() => onPick(slot.id)}
      className={shape}
      style={{ top, height }}
    >
      {words}
    </button>
  );
}

/** Product working, with its earliest and its latest rinse. */
function Wet({ s, says, marked }: { s: Soak; says: (s: number) => string; marked: boolean }) {
  const px = (from: number, to: number) => ((to - from) / 60) * minute;
  return (
    <div
      className={`absolute inset-x-0 ${marked ? pointedAt : ""}`}
      style={{ top: (s.start / 60) * minute, height: Math.max(px(s.start, Math.max(s.latest, s.end)), 4) }}
      title={`${s.title}: rinse from ${says(s.earliest)} to ${says(s.latest)}`}
    >
      <div
        className={`weave w-full rounded-sm border ${s.fits ? "border-amber" : "border-rust"}`}
        style={{ height: Math.max(px(s.start, s.end), 4) }}
      />
      <span className="absolute inset-x-0 h-[3px] bg-moss" style={{ top: px(s.start, s.earliest) }} aria-hidden />
      <span className="absolute inset-x-0 h-[3px] bg-rust" style={{ top: px(s.start, s.latest) }} aria-hidden />
    </div>
  );
}
