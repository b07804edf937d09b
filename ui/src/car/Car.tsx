import { type KeyboardEvent, useId, useMemo, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { useWords } from "../api/shop";
import { useNarrow } from "../kit/kit";
import { Arrows, type Pin, Pins } from "./Over";
import { neighbour, type Shape, unfold, type Zone } from "./shape";
import { CornerName, Patterns, ZoneShape } from "./ZoneShape";

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
  pins?: readonly Pin[];
  selected?: Zone | null;
  onPick?: (zone: Zone) => void;
  /** A zone that the pointer is drawn over while it is held down. */
  onPaint?: (zone: Zone) => void;
  /** Keys other than arrows, on the zone in focus. */
  onKey?: (zone: Zone, key: string) => boolean;
  describe?: (zone: Zone) => string;
  /** In which direction the lit zones are gone over. */
  way?: Schemas["Way"];
  className?: string;
}

const none: Grades = {};

/** The unfolded car: the same drawing and the same zones everywhere. To be tapped on a phone it stands upright, front up. */
export function Car(props: Props) {
  const { body, grades = none, marks = {}, lit, done = [], pins = [], selected, onPick, onPaint, describe, way, className = "" } = props;
  const facts = useWords().data?.bodies.find((b) => b.body === body);
  const drawing = useMemo(() => facts && unfold(body, facts.profile), [body, facts]);
  const parts = useMemo(() => new Map(facts?.parts.map((part) => [part.zone, part])), [facts]);
  const [focus, setFocus] = useState<Zone>("roof");
  const svg = useRef<SVGSVGElement>(null);
  const id = useId();
  const upright = useNarrow() && onPick !== undefined;
  if (!drawing || !facts) return <div className={`aspect-[4/3] ${className}`} aria-hidden />;

  const walk = (to: Zone) => {
    setFocus(to);
    svg.current?.querySelector<SVGGElement>(`[data-zone="${to}"]`)?.focus();
  };
  const picks = (zone: Zone) =>
    onPick && {
      inFocus: focus === zone,
      pressed: selected !== undefined ? selected === zone : undefined,
      pick: () => (setFocus(zone), onPick(zone)),
      paint: () => onPaint?.(zone),
      key: (e: KeyboardEvent) => keyed(e, zone, drawing.shapes, upright, props, walk),
    };
  const look = (zone: Zone, part: Schemas["Part"]) => {
    const grade = grades[zone];
    return {
      part,
      grade,
      mark: marks[zone] ?? (grade !== undefined ? String(grade) : undefined),
      active: selected === zone,
      lit: lit?.includes(zone) ?? false,
      dim: lit !== undefined && !lit.includes(zone),
      done: done.includes(zone),
      name: describe?.(zone) ?? `${part.label}${grade !== undefined ? `, grade ${grade}` : ""}`,
    };
  };
  const { shapes, width, height } = drawing;
  return (
    <svg
      ref={svg}
      viewBox={upright ? `0 0 ${height} ${width}` : `0 0 ${width} ${height}`}
      className={`block h-auto w-full select-none ${onPaint ? "touch-none" : ""} ${upright ? "" : className}`}
      role={onPick ? "group" : "img"}
      aria-label={`${facts.label}, unfolded${onPick ? ": arrows move between zones" : ""}`}
    >
      <Patterns id={id} />
      <g transform={upright ? `translate(${height} 0) rotate(90)` : undefined}>
        {drawing.rails.map((d) => (
          <path key={d} d={d} fill="var(--line)" fillOpacity="0.5" stroke="var(--ink)" strokeWidth="2" strokeLinejoin="round" />
        ))}
        {shapes.map((shape) => {
          const part = parts.get(shape.zone);
          const of = part && { shape, look: look(shape.zone, part), id, upright };
          return of && <ZoneShape key={shape.zone} {...of} {...(onPick && { picks: picks(shape.zone) })} />;
        })}
        {shapes
          .filter(({ zone }) => zone === "shuts" || zone === "underside")
          .map((shape) => {
            const { zone } = shape;
            const marked = marks[zone] !== undefined || grades[zone] !== undefined;
            const dim = lit !== undefined && !lit.includes(zone);
            return <CornerName key={zone} shape={shape} grade={grades[zone] ?? 0} marked={marked} dim={dim} upright={upright} />;
          })}
        <g className="pointer-events-none" fill="none" stroke="var(--ink)" strokeOpacity="0.4" strokeWidth="1.8" strokeLinecap="round">
          {drawing.lines.map((d) => (
            <path key={d} d={d} />
          ))}
        </g>
        {way &&
          shapes
            .filter((shape) => lit?.includes(shape.zone))
            .map((shape) => <Arrows key={shape.zone} way={way} shape={shape} height={height} />)}
        <Pins pins={pins} shapes={shapes} upright={upright} />
      </g>
    </svg>
  );
}

const steps: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** Arrow keys walk to the neighbour seen there; Enter picks; other keys are the page's. */
function keyed(e: KeyboardEvent, zone: Zone, shapes: Shape[], upright: boolean, { onPick, onKey }: Props, walk: (to: Zone) => void) {
  const step = steps[e.key];
  if (step) {
    const [dx, dy] = upright ? [step[1], -step[0]] : step; // as it is drawn, before it was stood up
    walk(neighbour(shapes, zone, dx, dy));
  } else if (e.key === "Enter" || e.key === " ") onPick?.(zone);
  else if (!onKey?.(zone, e.key)) return;
  e.preventDefault();
}
