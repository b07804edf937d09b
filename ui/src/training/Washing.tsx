import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Schemas } from "../api/client";
import type { DrillState } from "../core/core";

type Panel = Schemas["Panel"];
type Sheet = NonNullable<DrillState["mitt"]>["sheets"][number];
type Path = NonNullable<Schemas["Action"]["path"]>;

const wide = 0.22; // m, the cloth's footprint as the core has it
const high = 0.16;
const grid = 0.08; // m, between the points that the keyboard goes by
const shown = 100; // units of the drawing a metre

interface Props {
  panel: Panel;
  sheet: Sheet | undefined;
  open: boolean;
  stroke: (path: Path, pressing: boolean) => void;
}

/** A panel drawn to scale, washed with finger, pen, mouse or keys. The line is drawn here at once; the core answers it. */
export function Washing({ panel, sheet, open, stroke }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [line, setLine] = useState<Path>([]);
  const [mitt, setMitt] = useState<{ x: number; y: number }>();
  const began = useRef(0);
  const hard = useRef(false);

  const at = (e: { clientX: number; clientY: number; timeStamp: number }) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return { t: 0, x: 0, y: 0 };
    return {
      t: (e.timeStamp - began.current) / 1000,
      x: ((e.clientX - box.left) / box.width) * panel.width,
      y: ((e.clientY - box.top) / box.height) * panel.height,
    };
  };
  const down = (e: PointerEvent<SVGSVGElement>) => {
    if (!open || e.button !== 0) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    began.current = e.timeStamp;
    hard.current = false;
    setLine([at(e)]);
  };
  const move = (e: PointerEvent<SVGSVGElement>) => {
    const p = at(e);
    setMitt(p);
    if (line.length === 0) return;
    hard.current ||= e.pointerType === "pen" && e.pressure > 0.8; // a mouse and a finger tell nothing
    const all = e.nativeEvent.getCoalescedEvents?.() ?? [];
    setLine([...line, ...(all.length > 1 ? all.map(at) : [p])]);
  };
  const up = () => {
    if (line.length > 1) stroke(line, hard.current);
    setLine([]);
  };
  return (
    <div className="relative touch-none overflow-hidden rounded-xl border-2 border-line bg-paper select-none">
      <Heat sheet={sheet} />
      <svg
        ref={svg}
        viewBox={`0 0 ${panel.width * shown} ${panel.height * shown}`}
        className="relative block w-full cursor-crosshair"
        role="application"
        aria-label={`The ${panel.label}, drawn to scale. Arrow keys move the mitt, Space begins and ends a straight stroke.`}
        tabIndex={open ? 0 : -1}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={() => setLine([])}
        onPointerLeave={() => line.length === 0 && setMitt(undefined)}
        onKeyDown={(e) => open && byKeys(e, panel, mitt, setMitt, line, setLine, stroke)}
      >
        <Obstacles panel={panel} />
        {line.length > 0 && (
          <polyline
            points={line.map((p) => `${p.x * shown},${p.y * shown}`).join(" ")}
            className="fill-none stroke-tide"
            strokeWidth={1.2}
            strokeLinejoin="round"
          />
        )}
        {mitt && open && (
          <rect
            data-mitt
            x={(mitt.x - wide / 2) * shown}
            y={(mitt.y - high / 2) * shown}
            width={wide * shown}
            height={high * shown}
            rx={4}
            className="fill-tide/20 stroke-tide"
            strokeWidth={0.8}
          />
        )}
      </svg>
    </div>
  );
}

/** The keyboard's way: the mitt goes from point to point of a grid, and a stroke is a line between two of them. */
function byKeys(
  e: KeyboardEvent,
  panel: Panel,
  mitt: { x: number; y: number } | undefined,
  setMitt: (p: { x: number; y: number }) => void,
  line: Path,
  setLine: (p: Path) => void,
  stroke: Props["stroke"],
) {
  const steps: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  const here = mitt ?? { x: grid, y: grid };
  const step = steps[e.key];
  if (step) {
    const far = e.shiftKey ? 100 : 1;
    const within = (v: number, most: number) => Math.min(most - grid / 4, Math.max(grid / 4, v));
    const next = { x: within(here.x + step[0] * far * grid, panel.width), y: within(here.y + step[1] * far * grid, panel.height) };
    setMitt(next);
    const first = line[0];
    if (first) setLine([first, { t: 1.5, ...next }]);
  } else if (e.key === " " || e.key === "Enter") {
    if (line.length === 0) {
      setMitt(here);
      setLine([{ t: 0, ...here }]);
    } else {
      if (line.length > 1) stroke(line, false);
      setLine([]);
    }
  } else if (e.key === "Escape") setLine([]);
  else return;
  e.preventDefault();
}

function Obstacles({ panel }: { panel: Panel }) {
  return (
    <g aria-hidden>
      {panel.line && (
        <line
          x1={0}
          x2={panel.width * shown}
          y1={panel.line * shown}
          y2={panel.line * shown}
          className="stroke-faded"
          strokeWidth={0.5}
          strokeDasharray="3 2"
        />
      )}
      {panel.obstacles.map((o, i) =>
        o.kind === "bugs" ? (
          <text key={i} x={o.x * shown} y={o.y * shown - 1} className="fill-ink text-[5px]">
            bugs
          </text>
        ) : o.kind === "film edge" ? (
          <g key={i}>
            <line x1={o.x * shown} x2={o.x * shown} y1={0} y2={panel.height * shown} className="stroke-ink" strokeWidth={0.6} />
            <text x={o.x * shown + 2} y={6} className="fill-ink text-[5px]">
              film
            </text>
          </g>
        ) : (
          <rect
            key={i}
            x={o.x * shown}
            y={o.y * shown}
            width={o.w * shown}
            height={o.h * shown}
            rx={1.5}
            className={o.kind === "gap" ? "fill-faded" : "fill-chalk stroke-ink"}
            strokeWidth={0.6}
          />
        ),
      )}
    </g>
  );
}

/** What lies on the panel and how often the cloth came: dots for grit, pale once washed, hatched where it is scrubbed. */
function Heat({ sheet }: { sheet: Sheet | undefined }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const c = canvas.current;
    const pen = c?.getContext("2d");
    if (!c || !pen || !sheet) return;
    const cell = 6;
    c.width = sheet.cols * cell;
    c.height = sheet.rows * cell;
    const colour = (name: string) => getComputedStyle(c).getPropertyValue(name);
    const most = Math.max(...sheet.grit, 1);
    for (let i = 0; i < sheet.passes.length; i++) {
      const x = (i % sheet.cols) * cell;
      const y = Math.floor(i / sheet.cols) * cell;
      const passes = sheet.passes[i] ?? 0;
      if (passes < 0) continue;
      pen.fillStyle = colour(passes === 0 ? "--chalk" : passes < 3 ? "--moss-wash" : "--rust-wash");
      pen.fillRect(x, y, cell, cell);
      if (sheet.stuck?.[i] && (i * 7919) % 100 < 22) {
        pen.fillStyle = colour("--ink");
        pen.fillRect(x, y + 1, 5, 3);
      }
      pen.fillStyle = colour(passes > 2 ? "--rust" : "--faded");
      if (passes === 0 && (i * 7919) % 100 < 25 + (60 * (sheet.grit[i] ?? 0)) / most)
        pen.fillRect(x + ((i * 31) % 5), y + ((i * 17) % 5), 1.6, 1.6);
      if (passes > 2) pen.fillRect(x, y + (i % 2) * 3, cell, 1);
    }
  }, [sheet]);
  return <canvas ref={canvas} className="absolute inset-0 h-full w-full" aria-hidden />;
}
