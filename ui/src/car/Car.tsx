import { type KeyboardEvent, useId, useMemo, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { useWords } from "../api/shop";
import { neighbour, type Shape, unfold, type Zone } from "./shape";

export type Grades = Partial<Record<Zone, number>>;

interface Props {
  body: Schemas["Body"];
  grades?: Grades;
  /** What is written on a zone besides its shade. */
  marks?: Partial<Record<Zone, string>>;
  /** Zones to point out; the others step back. */
  lit?: readonly Zone[];
  /** Zones already done. */
  done?: readonly Zone[];
  pins?: readonly { zone: Zone; label: string; tone: "amber" | "rust" }[];
  selected?: Zone | null;
  onPick?: (zone: Zone) => void;
  /** Keys other than arrows, on the zone in focus. */
  onKey?: (zone: Zone, key: string) => boolean;
  describe?: (zone: Zone) => string;
  /** In which direction the lit zones are gone over. */
  way?: Schemas["Way"];
  className?: string;
}

const soil = ["var(--soil-0)", "var(--soil-1)", "var(--soil-2)", "var(--soil-3)", "var(--soil-4)"];
const resting: Record<Schemas["Surface"], string> = {
  paint: "var(--paper)",
  glass: "var(--glass)",
  fabric: "var(--soil-1)",
  rim: "var(--paper)",
  rubber: "var(--rubber)",
  liner: "var(--rubber)",
  metal: "var(--paper)",
};

/** The unfolded car: the same drawing and the same zones everywhere. */
export function Car({
  body,
  grades = {},
  marks = {},
  lit,
  done = [],
  pins = [],
  selected,
  onPick,
  onKey,
  describe,
  way,
  className = "",
}: Props) {
  const words = useWords();
  const facts = words.data?.bodies.find((b) => b.body === body);
  const drawing = useMemo(() => facts && unfold(body, facts.profile), [body, facts]);
  const parts = useMemo(() => new Map(facts?.parts.map((part) => [part.zone, part])), [facts]);
  const [focus, setFocus] = useState<Zone>("roof");
  const svg = useRef<SVGSVGElement>(null);
  const id = useId();
  if (!drawing || !facts) return <div className={`aspect-[4/3] ${className}`} aria-hidden />;

  const move = (zone: Zone, event: KeyboardEvent) => {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (way) {
      event.preventDefault();
      const next = neighbour(drawing.shapes, zone, way[0] ?? 0, way[1] ?? 0);
      setFocus(next);
      svg.current?.querySelector<SVGGElement>(`[data-zone="${next}"]`)?.focus();
    } else if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      onPick?.(zone);
    } else if (onKey?.(zone, event.key)) {
      event.preventDefault();
    }
  };

  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${drawing.width} ${drawing.height}`}
      className={`block h-auto w-full select-none ${className}`}
      role={onPick ? "group" : "img"}
      aria-label={`${facts.label}, unfolded${onPick ? ": arrows move between zones" : ""}`}
    >
      <defs>
        {/* The three height bands differ by pattern as well as by tone. */}
        <pattern id={`${id}middle`} width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(35)">
          <path d="M0 0V9" stroke="var(--ink)" strokeOpacity="0.13" strokeWidth="1.6" />
        </pattern>
        <pattern id={`${id}lower`} width="8" height="8" patternUnits="userSpaceOnUse">
          <path d="M0 0L8 8M8 0L0 8" stroke="var(--ink)" strokeOpacity="0.16" strokeWidth="1.2" />
        </pattern>
        <pattern id={`${id}done`} width="12" height="12" patternUnits="userSpaceOnUse">
          <path d="M3 7l2.5 2.5L10 4" fill="none" stroke="var(--moss)" strokeWidth="1.6" />
        </pattern>
      </defs>
      {drawing.rails.map((d) => (
        <path key={d} d={d} fill="var(--line)" fillOpacity="0.5" stroke="var(--ink)" strokeWidth="2" strokeLinejoin="round" />
      ))}
      {drawing.shapes.map((shape) => {
        const part = parts.get(shape.zone);
        if (!part) return null;
        const grade = grades[shape.zone];
        const active = selected === shape.zone;
        const dim = lit !== undefined && !lit.includes(shape.zone);
        const fill = grade !== undefined ? (soil[grade] ?? "var(--paper)") : resting[part.surface];
        const band = part.band === "middle" || part.band === "lower" ? `url(#${id}${part.band})` : null;
        const mark = marks[shape.zone] ?? (grade !== undefined ? String(grade) : "");
        const small =
          shape.zone.startsWith("arch") || shape.zone.startsWith("tyre") || shape.zone.startsWith("mirror") || shape.zone === "tips";
        const dark = grade === 4 || grade === 3;
        const name = describe?.(shape.zone) ?? `${part.label}${grade !== undefined ? `, grade ${grade}` : ""}`;
        return (
          <g
            key={shape.zone}
            data-zone={shape.zone}
            role={onPick ? "button" : undefined}
            aria-label={onPick ? name : undefined}
            aria-pressed={onPick && selected !== undefined ? active : undefined}
            tabIndex={onPick ? (focus === shape.zone ? 0 : -1) : undefined}
            onClick={onPick && (() => (setFocus(shape.zone), onPick(shape.zone)))}
            onKeyDown={onPick && ((e) => move(shape.zone, e))}
            opacity={dim ? 0.35 : 1}
            className={
              onPick
                ? "cursor-pointer outline-none [&:focus-visible>.edge]:stroke-[6px] [&:focus-visible>.edge]:[stroke:var(--tide)] [&:hover>.edge]:[stroke:var(--tide)]"
                : ""
            }
          >
            <title>{name}</title>
            {onPick && small && <circle cx={shape.at[0]} cy={shape.at[1]} r="15" fill="transparent" />}
            <path d={shape.path} fill={fill} fillRule="evenodd" />
            {band && <path d={shape.path} fill={band} fillRule="evenodd" />}
            {done.includes(shape.zone) && <path d={shape.path} fill={`url(#${id}done)`} fillRule="evenodd" />}
            <path
              className="edge"
              d={shape.path}
              fill={lit?.includes(shape.zone) ? "var(--tide)" : "none"}
              fillOpacity="0.16"
              fillRule="evenodd"
              stroke={active || lit?.includes(shape.zone) ? "var(--tide)" : "var(--ink)"}
              strokeWidth={active ? 6 : lit?.includes(shape.zone) ? 4 : 2}
              strokeLinejoin="round"
            />
            {mark && (
              <text
                x={shape.at[0]}
                y={shape.at[1]}
                textAnchor="middle"
                dominantBaseline="central"
                className="num pointer-events-none font-semibold"
                fontSize={small ? 13 : 24}
                fill={dark ? "var(--paper)" : "var(--ink)"}
              >
                {mark}
              </text>
            )}
          </g>
        );
      })}
      {drawing.shapes
        .filter(({ zone }) => zone === "shuts" || zone === "underside")
        .map(({ zone, at }) => (
          <text
            key={zone}
            x={at[0]}
            y={at[1] + (marks[zone] !== undefined || grades[zone] !== undefined ? 18 : 4)}
            textAnchor="middle"
            dominantBaseline="central"
            fontSize="14"
            aria-hidden
            className="pointer-events-none"
            fill={(grades[zone] ?? 0) > 2 ? "var(--paper)" : "var(--ink)"}
            opacity={lit !== undefined && !lit.includes(zone) ? 0.35 : 1}
          >
            {zone}
          </text>
        ))}
      {drawing.lines.map((d) => (
        <path
          key={d}
          d={d}
          className="pointer-events-none"
          fill="none"
          stroke="var(--ink)"
          strokeOpacity="0.4"
          strokeWidth="1.8"
          strokeLinecap="round"
        />
      ))}
      {way &&
        drawing.shapes
          .filter((shape) => lit?.includes(shape.zone))
          .map((shape) => <Arrows key={shape.zone} way={way} shape={shape} height={drawing.height} />)}
      {pins.map((x, i) => {
        const at = drawing.shapes.find((shape) => shape.zone === x.zone)?.at ?? [0, 0];
        const before = pins.slice(0, i).filter((y) => y.zone === x.zone).length;
        return (
          <g
            key={`${x.zone}${x.label}${i}`}
            transform={`translate(${at[0] + (before % 3) * 20} ${at[1] - 27 - Math.floor(before / 3) * 20})`}
            className="pointer-events-none"
          >
            <path
              d="M0 -12L12 0L0 12L-12 0Z"
              fill={x.tone === "rust" ? "var(--rust)" : "var(--amber)"}
              stroke="var(--paper)"
              strokeWidth="2"
            />
            <text
              textAnchor="middle"
              dominantBaseline="central"
              fontSize="12"
              fontWeight="700"
              fill={x.tone === "rust" ? "var(--paper)" : "#1e2b34"}
            >
              {x.label}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

/** Arrows over a zone: the nose is on the left, the ground away from the middle. Small zones need none. */
function Arrows({ way, shape: { zone, at }, height }: { way: Schemas["Way"]; shape: Shape; height: number }) {
  if (/^(arch|tyre|wheel|mirror|tips|shuts|underside)/.test(zone)) return null;
  return (
    <g className="pointer-events-none" aria-hidden>
      {arrows(way, zone, at[1] < height / 2).map(({ turn, from }) => (
        <path
          key={`${turn} ${from}`}
          transform={`translate(${at[0]} ${at[1]}) rotate(${turn}) translate(${from} 0)`}
          d="M-16 0H14M6 -8L16 0L6 8"
          fill="none"
          stroke="var(--tide)"
          strokeWidth="6"
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      ))}
    </g>
  );
}

/** Which way arrows turn on a zone, degrees from along the car, and how far they stand from its middle. */
function arrows(way: Schemas["Way"], zone: Zone, above: boolean): { turn: number; from: number }[] {
  const side = zone.endsWith("-left") || zone.endsWith("-right");
  // Towards the ground: one way on sides and ends, both ways off the top.
  const ground = side ? [above ? -90 : 90] : zone === "front" ? [180] : zone === "rear" ? [0] : [-90, 90];
  const apart = ground.length > 1 ? 26 : 0;
  switch (way) {
    case "along":
      return [{ turn: 0, from: 0 }];
    case "both ways":
      return [
        { turn: 0, from: 0 },
        { turn: 90, from: 0 },
      ];
    case "up and down":
      return side
        ? [
            { turn: -90, from: 18 },
            { turn: 90, from: 18 },
          ]
        : [{ turn: 0, from: 0 }];
    case "down":
      return ground.map((turn) => ({ turn, from: apart }));
    case "up":
      return ground.map((turn) => ({ turn: turn + 180, from: -apart }));
  }
}
