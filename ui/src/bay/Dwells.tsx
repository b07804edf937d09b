import { useEffect, useRef } from "react";
import type { Schemas } from "../api/client";
import { clock, hour, sentence } from "../kit/format";
import { alarm } from "../kit/alarm";
import { Button } from "../kit/kit";
import { speak } from "./device";

type Dwelling = Schemas["Dwelling"];

/** What is working on the car, with the earliest and the latest rinse. It warns twice before it dries: by word, sound, buzz and voice. */
export function Dwells({
  dwelling,
  at,
  title,
  rinse,
}: {
  dwelling: Dwelling[];
  at: number;
  title: (s: string) => string;
  /** Goes to the step that takes a product off; undefined where that is in hand already, or not one's own to begin. */
  rinse?: (step: string) => (() => void) | undefined;
}) {
  const warned = useRef(new Set<string>());
  useEffect(() => {
    for (const d of dwelling) {
      const once = (what: string, when: number, act: () => void) => {
        const key = `${d.step}${d.since}${what}`;
        if (at < when || at > when + 20_000 || warned.current.has(key)) return;
        warned.current.add(key);
        act();
      };
      once("may", Date.parse(d.earliest), () => speak(`${title(d.step)} may be rinsed now.`));
      once("soon", Date.parse(d.soon), () => (alarm(1), speak(`${title(d.step)} dries soon. Get ready to rinse.`)));
      once("now", Date.parse(d.urgent), () => (alarm(3), speak(`Rinse ${title(d.step)} now.`)));
    }
  }, [dwelling, at, title]);
  return (
    <ul className="grid gap-2">
      {dwelling.map((d) => (
        <Wet key={d.step + d.since} d={d} at={at} title={title(d.step)} rinse={rinse?.(d.step)} />
      ))}
    </ul>
  );
}

function Wet({ d, at, title, rinse }: { d: Dwelling; at: number; title: string; rinse: (() => void) | undefined }) {
  const [since, earliest, latest] = [Date.parse(d.since), Date.parse(d.earliest), Date.parse(d.latest)];
  const [first, last] = [Date.parse(d.soon), Date.parse(d.urgent)];
  const left = (latest - at) / 1000;
  const urgent = at >= last || d.dried;
  const full = Math.max(1, latest - since);
  const says = d.dried
    ? "Seen dry: re-wet it, and rinse now."
    : left < 0
      ? "It has dried or passed its label: re-wet, rinse now."
      : urgent
        ? "Rinse now, before it dries."
        : at >= first
          ? `Dries at ${hour(d.latest)}: get ready to rinse.`
          : at < earliest
            ? `Rinse from ${hour(d.earliest)}, in ${clock((earliest - at) / 1000)}; latest ${hour(d.latest)}.`
            : `Rinse any time before ${hour(d.latest)}.`;
  return (
    <li
      role={at >= first ? "alert" : undefined}
      className={`rounded-xl border-2 p-2.5 ${urgent ? "border-rust bg-rust-wash" : "border-amber bg-amber-wash"}`}
    >
      <p className="flex items-baseline justify-between gap-3">
        <b>{sentence(title)}: working</b>
        <span className={`num text-2xl font-semibold ${urgent ? "text-rust" : ""}`}>{left < 0 ? `${clock(-left)} over` : clock(left)}</span>
      </p>
      <p className={at >= first ? "font-semibold text-rust" : ""}>{says}</p>
      {urgent && rinse && (
        <Button look="act" className="my-1.5 min-h-[64px] w-full text-xl" onClick={rinse}>
          To the rinse
        </Button>
      )}
      <span className="mt-1.5 block h-2 rounded-full bg-paper" aria-hidden>
        <span
          className="relative block h-full rounded-full"
          style={{
            width: `${Math.min(100, Math.max(0, ((at - since) / full) * 100))}%`,
            background: urgent ? "var(--rust)" : "var(--amber)",
          }}
        />
        <span className="relative -mt-2.5 block h-3 w-1 bg-moss" style={{ left: `${Math.min(100, ((earliest - since) / full) * 100)}%` }} />
      </span>
    </li>
  );
}
