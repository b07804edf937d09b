import type { KeyboardEvent, PointerEvent } from "react";
import type { Schemas } from "../api/client";
import { readable } from "./Over";
import type { Shape, Zone } from "./shape";

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

/** What is drawn small, and is hit on a circle around it. */
const small = (zone: Zone) => /^(arch|tyre|mirror|tips)/.test(zone);

/** A finger, too, comes to other zones: the one it went down on does not hold it. */
const letGo = (e: PointerEvent) => e.target instanceof Element && e.target.releasePointerCapture(e.pointerId);

/** How a zone looks. */
export interface ZoneLook {
  part: Schemas["Part"];
  grade: number | undefined;
  mark: string | undefined;
  active: boolean;
  lit: boolean;
  dim: boolean;
  done: boolean;
  name: string;
}

/** How a zone is picked: absent on a car that is only looked at. */
export interface ZonePick {
  inFocus: boolean;
  pressed: boolean | undefined;
  pick: () => void;
  paint: () => void;
  key: (e: KeyboardEvent) => void;
}

const touchable =
  "cursor-pointer outline-none [&:focus-visible>.edge]:stroke-[6px] [&:focus-visible>.edge]:[stroke:var(--tide)] [&:hover>.edge]:[stroke:var(--tide)]";

/** One zone: its shade by soil, its pattern by band, what is marked on it. */
export function ZoneShape({
  shape,
  look,
  picks,
  id,
  upright,
}: {
  shape: Shape;
  look: ZoneLook;
  picks?: ZonePick;
  id: string;
  upright: boolean;
}) {
  const { part, grade, mark, active, lit, dim, done, name } = look;
  const { zone, path, at } = shape;
  const fill = grade !== undefined ? (soil[grade] ?? "var(--paper)") : resting[part.surface];
  const band = part.band === "middle" || part.band === "lower" ? `url(#${id}${part.band})` : null;
  return (
    <g
      data-zone={zone}
      role={picks && "button"}
      aria-label={picks && name}
      aria-pressed={picks?.pressed}
      tabIndex={picks && (picks.inFocus ? 0 : -1)}
      onClick={picks?.pick}
      onPointerDown={letGo}
      onPointerEnter={picks && ((e) => e.buttons === 1 && picks.paint())}
      onPointerLeave={picks && ((e) => e.buttons === 1 && picks.paint())}
      onKeyDown={picks?.key}
      opacity={dim ? 0.35 : 1}
      className={picks ? touchable : ""}
    >
      <title>{name}</title>
      {picks && small(zone) && <circle cx={at[0]} cy={at[1]} r={upright ? 22 : 15} fill="transparent" />}
      <path d={path} fill={fill} fillRule="evenodd" />
      {band && <path d={path} fill={band} fillRule="evenodd" />}
      {done && <path d={path} fill={`url(#${id}done)`} fillRule="evenodd" />}
      <path
        className="edge"
        d={path}
        fill={lit ? "var(--tide)" : "none"}
        fillOpacity="0.16"
        fillRule="evenodd"
        stroke={active || lit ? "var(--tide)" : "var(--ink)"}
        strokeWidth={active ? 6 : lit ? 4 : 2}
        strokeLinejoin="round"
      />
      {mark && (
        <text
          x={at[0]}
          y={at[1]}
          transform={readable(upright, at)}
          textAnchor="middle"
          dominantBaseline="central"
          className="num pointer-events-none font-semibold"
          fontSize={small(zone) ? 13 : 24}
          fill={grade === 3 || grade === 4 ? "var(--paper)" : "var(--ink)"}
        >
          {mark}
        </text>
      )}
    </g>
  );
}

/** The three height bands differ by pattern as well as by tone. */
export const Patterns = ({ id }: { id: string }) => (
  <defs>
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
);

/** The name of a zone that is drawn apart from the car. */
export function CornerName({
  shape: { zone, at },
  grade,
  marked,
  dim,
  upright,
}: {
  shape: Shape;
  grade: number;
  marked: boolean;
  dim: boolean;
  upright: boolean;
}) {
  return (
    <text
      x={at[0]}
      y={at[1]}
      dy={marked ? 18 : 4}
      transform={readable(upright, at)}
      textAnchor="middle"
      dominantBaseline="central"
      fontSize="14"
      aria-hidden
      className="pointer-events-none"
      fill={grade > 2 ? "var(--paper)" : "var(--ink)"}
      opacity={dim ? 0.35 : 1}
    >
      {zone}
    </text>
  );
}
