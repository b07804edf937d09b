import { type ReactNode, useId, useRef } from "react";
import { Button } from "../kit/kit";
import { savePng, saveSvg } from "./save";
import { ticks } from "./scale";

export interface Frame {
  width: number;
  height: number;
  left: number;
  right: number;
  top: number;
  bottom: number;
}

export const frame = (width: number, height: number): Frame => ({ width, height, left: 46, right: 12, top: 14, bottom: 26 });

interface Props {
  name: string;
  /** What it shows, in words: what somebody who cannot see it is told. */
  says: string;
  f: Frame;
  children: ReactNode;
  /** A file of its numbers. */
  csv?: string;
}

/** One chart with its frame, and its way out of here: as a drawing, a picture, a table. */
export function Plot({ name, says, f, children, csv }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const id = useId();
  const file = name.toLowerCase().replace(/[^a-z0-9]+/g, "-");
  return (
    <figure className="m-0">
      <svg
        ref={svg}
        viewBox={`0 0 ${f.width} ${f.height}`}
        className="block h-auto w-full"
        role="img"
        aria-labelledby={id}
        fontSize="12"
        fill="var(--ink)"
      >
        <title id={id}>{`${name}. ${says}`}</title>
        {children}
      </svg>
      <figcaption className="no-print mt-1 flex flex-wrap gap-1.5">
        <Button look="quiet" className="min-h-hit px-2 text-sm" onClick={() => svg.current && saveSvg(svg.current, file)}>
          Drawing (SVG)
        </Button>
        <Button look="quiet" className="min-h-hit px-2 text-sm" onClick={() => svg.current && void savePng(svg.current, file)}>
          Picture (PNG)
        </Button>
        {csv && (
          <a
            href={csv}
            download
            className="inline-flex min-h-hit items-center px-2 text-sm font-semibold text-tide underline-offset-4 hover:underline"
          >
            Table (CSV)
          </a>
        )}
      </figcaption>
    </figure>
  );
}

/** The upright scale with its lines across. */
export function Across({
  f,
  range,
  y,
  unit,
  about = 5,
}: {
  f: Frame;
  range: [number, number];
  y: (v: number) => number;
  unit: string;
  about?: number;
}) {
  return (
    <g>
      {ticks(range[0], range[1], about).map((v) => (
        <g key={v}>
          <path d={`M${f.left} ${y(v)}H${f.width - f.right}`} stroke="var(--line)" />
          <text x={f.left - 6} y={y(v)} textAnchor="end" dominantBaseline="central" className="num" fill="var(--faded)">
            {v}
          </text>
        </g>
      ))}
      <text x={f.left} y={9} fill="var(--faded)" fontSize="11">
        {unit}
      </text>
    </g>
  );
}

/** Names along the foot. */
export function Along({ f, x, at, say }: { f: Frame; x: (v: number) => number; at: number[]; say: (v: number) => string }) {
  return (
    <g fill="var(--faded)">
      {at.map((v) => (
        <text key={v} x={x(v)} y={f.height - 8} textAnchor="middle" className="num" fontSize="11">
          {say(v)}
        </text>
      ))}
    </g>
  );
}
