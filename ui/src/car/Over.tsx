import type { Schemas } from "../api/client";
import type { Shape, Zone } from "./shape";

/** Turns what is written on a car that stands upright, so that it reads as words do. */
export const readable = (upright: boolean, [x, y]: readonly [number, number]) => (upright ? `rotate(-90 ${x} ${y})` : undefined);

export interface Pin {
  zone: Zone;
  label: string;
  tone: "amber" | "rust" | "tide";
}

/** Findings and bonded matter, beside each other where a zone has several. */
export function Pins({ pins, shapes, upright }: { pins: readonly Pin[]; shapes: Shape[]; upright: boolean }) {
  return pins.map((x, i) => {
    const at = shapes.find((shape) => shape.zone === x.zone)?.at ?? [0, 0];
    const before = pins.slice(0, i).filter((y) => y.zone === x.zone).length;
    return (
      <g
        key={`${x.zone}${x.label}${i}`}
        transform={`translate(${at[0]} ${at[1]})${upright ? " rotate(-90)" : ""} translate(${(before % 3) * 20} ${-27 - Math.floor(before / 3) * 20})`}
        className="pointer-events-none"
      >
        <path d="M0 -12L12 0L0 12L-12 0Z" fill={`var(--${x.tone})`} stroke="var(--paper)" strokeWidth="2" />
        <text
          textAnchor="middle"
          dominantBaseline="central"
          fontSize="12"
          fontWeight="700"
          fill={x.tone === "amber" ? "#1e2b34" : "var(--paper)"}
        >
          {x.label}
        </text>
      </g>
    );
  });
}

/** Arrows over a zone: the nose is on the left, the ground away from the middle. Small zones need none. */
export function Arrows({ way, shape: { zone, at }, height }: { way: Schemas["Way"]; shape: Shape; height: number }) {
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
