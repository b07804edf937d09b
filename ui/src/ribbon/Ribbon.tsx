import { useId } from "react";
import type { Schemas } from "../api/client";
import { minutes } from "../kit/format";

interface Props {
  line: Schemas["Line"];
  title: (step: string) => string;
  selected?: string;
  onPick?: (step: string) => void;
  /** Minutes since the start, on a running wash. */
  now?: number;
}

/** Products that work at the same time lie under one another. */
function lanesOf(working: Schemas["Working"][]) {
  const free: number[] = []; // when each lane is free again
  const lanes = working.map((w) => {
    const lane = free.findIndex((until) => until <= w.start);
    const at = lane < 0 ? free.length : lane;
    free[at] = Math.max(w.end, w.latest);
    return at;
  });
  return { lanes, rows: Math.max(1, free.length) };
}

/** A wash as a strip of time: solid is hands on, woven is product working with its earliest and latest rinse, thin is waiting. */
export function Ribbon({ line, title, selected, onPick, now }: Props) {
  const id = useId();
  const W = 1000;
  const total = Math.max(line.minutes, 1);
  const x = (m: number) => (m / total) * W;
  const every = total > 90 ? 15 : total > 40 ? 10 : 5;
  const { lanes, rows } = lanesOf(line.working);
  const foot = 52 + rows * 12;
  const ticks = Array.from({ length: Math.floor(total / every) + 1 }, (_, i) => i * every);
  return (
    <svg
      viewBox={`-6 0 ${W + 12} ${foot + 16}`}
      className="block w-full"
      role={onPick ? "group" : "img"}
      aria-label={`The wash as a strip of ${minutes(total)}`}
    >
      <defs>
        <pattern id={`${id}weave`} width="10" height="10" patternUnits="userSpaceOnUse">
          <rect width="10" height="10" fill="var(--amber-wash)" />
          <path d="M0 2.5H5M5 7.5H10M2.5 5V10M7.5 0V5" stroke="var(--amber)" strokeWidth="2.4" />
        </pattern>
      </defs>
      {ticks.map((t) => (
        <g key={t}>
          <path d={`M${x(t)} 4V${foot}`} stroke="var(--line)" />
          <text x={x(t)} y={foot + 13} textAnchor={t === 0 ? "start" : "middle"} fontSize="12" fill="var(--faded)" className="num">
            {t}
            {t === 0 ? " min" : ""}
          </text>
        </g>
      ))}
      {line.blocks.map((b, i) =>
        b.kind === "waiting" ? (
          <path key={`w${i}`} d={`M${x(b.start)} 26H${x(b.end)}`} stroke="var(--faded)" strokeWidth="4" strokeDasharray="2 5">
            <title>{`Waiting ${minutes(b.end - b.start)} for ${title(b.step)}`}</title>
          </path>
        ) : (
          <g
            key={b.step}
            role={onPick && "button"}
            tabIndex={onPick && 0}
            aria-label={onPick && `${title(b.step)}, ${minutes(b.end - b.start)}`}
            aria-pressed={onPick && selected === b.step}
            onClick={() => onPick?.(b.step)}
            onKeyDown={(e) => {
              if (e.key === "Enter" || e.key === " ") {
                e.preventDefault();
                onPick?.(b.step);
              }
            }}
            className={
              onPick
                ? "cursor-pointer outline-none [&:focus-visible>rect]:[stroke:var(--tide)] [&:focus-visible>rect]:[stroke-width:5px]"
                : ""
            }
          >
            <title>{`${title(b.step)}: ${minutes(b.end - b.start)}`}</title>
            <rect
              x={x(b.start) + 0.75}
              y="6"
              width={Math.max(2, x(b.end) - x(b.start) - 1.5)}
              height="40"
              rx="4"
              fill={selected === b.step ? "var(--tide)" : "var(--ink)"}
            />
            {x(b.end) - x(b.start) > 64 && (
              <text x={x(b.start) + 8} y="31" fontSize="13" fill="var(--paper)" className="pointer-events-none">
                {title(b.step).slice(0, Math.floor((x(b.end) - x(b.start) - 12) / 7.2))}
              </text>
            )}
          </g>
        ),
      )}
      {line.working.map((w, i) => (
        <g key={w.step}>
          <title>{`${title(w.step)} works: rinse from ${minutes(w.earliest - w.start)} to ${minutes(w.latest - w.start)} after it is on`}</title>
          <rect
            x={x(w.start)}
            y={50 + (lanes[i] ?? 0) * 12}
            width={Math.max(2, x(w.end) - x(w.start))}
            height="11"
            rx="2"
            fill={`url(#${id}weave)`}
            stroke={w.fits ? "var(--amber)" : "var(--rust)"}
          />
          <path d={`M${x(w.earliest)} ${48 + (lanes[i] ?? 0) * 12}v15`} stroke="var(--moss)" strokeWidth="3" />
          <path d={`M${Math.min(W, x(w.latest))} ${48 + (lanes[i] ?? 0) * 12}v15`} stroke="var(--rust)" strokeWidth="3" />
        </g>
      ))}
      {now !== undefined && <path d={`M${Math.min(W, x(now))} 0V${foot}`} stroke="var(--tide)" strokeWidth="3" />}
    </svg>
  );
}

/** What the ribbon's marks mean. */
export function RibbonKey() {
  return (
    <p className="flex flex-wrap gap-x-5 gap-y-1 text-sm text-faded">
      <span>
        <b className="mr-1.5 inline-block h-3 w-5 rounded-sm bg-ink align-middle" />
        hands on
      </span>
      <span>
        <b className="mr-1.5 inline-block h-3 w-5 rounded-sm border border-amber bg-amber-wash align-middle" />
        product working
      </span>
      <span>
        <b className="mr-1.5 inline-block h-3 w-1 bg-moss align-middle" />
        earliest rinse
      </span>
      <span>
        <b className="mr-1.5 inline-block h-3 w-1 bg-rust align-middle" />
        latest rinse
      </span>
      <span>
        <b className="mr-1.5 inline-block w-5 border-t-4 border-dotted border-faded align-middle" />
        waiting
      </span>
    </p>
  );
}
