import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { Across, Along, type Frame, frame, Plot } from "../chart/Plot";
import { dayTicks, room, scale } from "../chart/scale";
import { day, hour, plural, sentence } from "../kit/format";
import { Choice, Empty, Field, Loading, Panel, Select, Table, Trouble } from "../kit/kit";
import { csv } from "./Csv";
import { keys } from "../api/keys";

type View = Schemas["ChartView"];

/** Control charts: is it still as it was, and if not, what changed. */
export function Charts({ days }: { days: number }) {
  const [of, setOf] = useState<string>();
  const view = useQuery({
    queryKey: keys.times("chart", days, of),
    queryFn: () => ask(client.GET("/times/chart", { params: { query: { days, ...(of && { of }) } } })),
    placeholderData: (was) => was,
    retry: false,
  });
  if (view.isPending) return <Loading what="the chart" />;
  if (!view.data) return <Trouble error={view.error} retry={() => (of ? setOf(undefined) : void view.refetch())} />;
  const v = view.data;
  const { points } = v.chart;
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
        <div className="w-72">
          <Field label="Chart of">
            <Select value={v.of} options={v.series} onChange={setOf} label="Chart of" />
          </Field>
        </div>
        {v.drifting.length > 0 && (
          <Choice
            label="Changed in these days"
            value={v.of}
            onChange={setOf}
            options={v.drifting.map((d) => ({ value: d, label: sentence(d) }))}
          />
        )}
      </div>
      {points.length < 2 ? (
        <Empty>{points.length === 0 ? "Nothing of this was timed in these days." : "One value is not enough for a chart."}</Empty>
      ) : (
        <>
          {v.drift ? (
            <p
              className={`max-w-4xl rounded-xl border-2 p-3 font-semibold ${better(v) ? "border-moss bg-moss-wash text-moss" : "border-rust bg-rust-wash text-rust"}`}
            >
              {better(v) ? "Better. " : ""}
              {v.drift.words}{" "}
              {v.drift.causes.length === 0 && (
                <Link to="/shelf#cloths" className="font-semibold underline underline-offset-4">
                  See which cloths are worn
                </Link>
              )}
            </p>
          ) : (
            <p className="max-w-4xl rounded-xl border-2 border-line bg-paper p-3">
              No lasting change in these days: what goes up and down is within what chance makes.
            </p>
          )}
          <Panel
            title={`${sentence(v.of)}, ${v.unit}`}
            aside={`${plural(v.chart.all, "wash", "washes")}${v.learning ? `; ${v.learning} of trainees left out` : ""}`}
          >
            <Individuals v={v} days={days} />
          </Panel>
          <div className="grid gap-4 xl:grid-cols-2">
            <Signals v={v} />
            <Versions v={v} />
          </div>
        </>
      )}
    </div>
  );
}

/** More of the mitt's rinses is better; less of anything else. */
const better = (v: View) => (v.drift ? v.drift.compared.difference < 0 !== (v.of === "mitt rinses") : false);

const ms = (iso: string) => Date.parse(iso);

function Individuals({ v, days }: { v: View; days: number }) {
  const { chart, drift } = v;
  const { points } = chart;
  const top: Frame = { ...frame(980, 300), right: 92 };
  const from = ms(points[0]?.at ?? "");
  const to = ms(points.at(-1)?.at ?? "");
  const x = scale([from, to], [top.left + 6, top.width - top.right - 6]);
  const range = room([...points.map((p) => p.value), chart.upper, Math.max(chart.lower, 0)]);
  const y = scale(range, [top.height - top.bottom, top.top]);
  const counts = chart.scale === "counts";
  const limits: [number, string][] = [
    [chart.upper, counts ? "most by chance" : "upper limit"],
    [chart.mean, chart.scale === "times" ? "usual" : "mean"],
    ...(counts ? [] : [[chart.lower, "lower limit"] satisfies [number, string]]),
  ];
  // Of counts each has a limit of its own, by how many it is among.
  const own = points.some((p) => p.most !== undefined && p.most !== chart.upper);
  return (
    <>
      <Plot
        name={`${v.of}, individuals`}
        says={`${chart.all} washes, mean ${chart.mean.toFixed(1)}, limits ${chart.lower.toFixed(1)} and ${chart.upper.toFixed(1)} ${v.unit} from the first ${chart.base}; ${chart.signals} break a run rule.`}
        f={top}
        csv={csv("chart", days, v.of)}
      >
        <Across f={top} range={range} y={y} unit={v.unit} />
        {drift && (
          <rect
            x={x(ms(drift.since))}
            y={top.top}
            width={x(to) - x(ms(drift.since)) + 6}
            height={top.height - top.top - top.bottom}
            fill="var(--rust)"
            opacity="0.09"
          />
        )}
        {limits.map(([value, name]) =>
          value < range[0] || (own && value === chart.upper) ? null : (
            <g key={name}>
              <path
                d={`M${top.left} ${y(value)}H${top.width - top.right}`}
                stroke="var(--ink)"
                strokeWidth={name === "mean" ? 1.6 : 1.2}
                strokeDasharray={name === "mean" ? undefined : "7 5"}
              />
              <text x={top.width - top.right + 5} y={y(value)} dominantBaseline="central" fontSize="11">
                {name} {value.toFixed(counts && name !== "mean" ? 0 : 1)}
              </text>
            </g>
          ),
        )}
        {own && (
          <path
            d={points.map((p, i) => `${i ? "H" : "M"}${x(ms(p.at))} ${i ? "V" : ""}${y(p.most ?? 0)}`).join("")}
            fill="none"
            stroke="var(--ink)"
            strokeWidth="1.2"
            strokeDasharray="7 5"
          />
        )}
        {own && (
          <text x={top.width - top.right + 5} y={y(points.at(-1)?.most ?? 0)} dominantBaseline="central" fontSize="11">
            most by chance
          </text>
        )}
        {v.versions.map((c) => (
          <g key={c.title + c.version}>
            <path d={`M${x(ms(c.at))} ${top.top}V${top.height - top.bottom}`} stroke="var(--tide)" strokeWidth="2" />
            <text x={x(ms(c.at)) + 4} y={top.top + 9} fontSize="11" fill="var(--tide)">
              {c.title} {c.version}
            </text>
          </g>
        ))}
        <path
          d={points.map((p, i) => `${i ? "L" : "M"}${x(ms(p.at))} ${y(p.value)}`).join("")}
          fill="none"
          stroke="var(--ink)"
          strokeOpacity="0.25"
        />
        {points.map((p) => (
          <Mark
            key={p.ref ?? p.at}
            x={x(ms(p.at))}
            y={y(p.value)}
            out={p.signals.length > 0}
            title={`${p.label}, ${day(p.at)}: ${p.value.toFixed(1)} ${v.unit}. ${p.signals.join("; ")}`}
          />
        ))}
        <Along f={top} x={x} at={dayTicks(from, to)} say={(t) => day(new Date(t).toISOString()).slice(4)} />
      </Plot>
      {counts ? null : <Ranges v={v} x={x} />}
    </>
  );
}

/** How far each lies from the one before it. */
function Ranges({ v, x }: { v: View; x: (t: number) => number }) {
  const { chart, of } = v;
  const { points } = chart;
  const low: Frame = { ...frame(980, 110), top: 16, right: 92 };
  const spread: [number, number] = [0, Math.max(chart.rangeTop, ...points.map((p) => p.range)) * 1.08 || 1];
  const yr = scale(spread, [low.height - 6, low.top]);
  return (
    <>
      <Plot name={`${of}, moving range`} says={`mean ${chart.meanRange.toFixed(1)}, limit ${chart.rangeTop.toFixed(1)}`} f={low}>
        <Across
          f={low}
          range={spread}
          y={yr}
          unit={chart.scale === "times" ? "% from one to the next" : "from one to the next"}
          about={3}
        />
        <path d={`M${low.left} ${yr(chart.rangeTop)}H${low.width - low.right}`} stroke="var(--ink)" strokeDasharray="7 5" />
        <path d={`M${low.left} ${yr(chart.meanRange)}H${low.width - low.right}`} stroke="var(--ink)" />
        {points.slice(1).map((p) => (
          <Mark key={p.ref ?? p.at} x={x(ms(p.at))} y={yr(p.range)} out={p.range > chart.rangeTop} title={p.range.toFixed(1)} />
        ))}
      </Plot>
    </>
  );
}

/** A value: a dot, or a ringed diamond where it ends a run rule. */
function Mark({ x, y, out, title }: { x: number; y: number; out: boolean; title: string }) {
  return out ? (
    <path d={`M${x} ${y - 7}L${x + 7} ${y}L${x} ${y + 7}L${x - 7} ${y}Z`} fill="var(--paper)" stroke="var(--rust)" strokeWidth="2.5">
      <title>{title}</title>
    </path>
  ) : (
    <circle cx={x} cy={y} r="3.5" fill="var(--ink)">
      <title>{title}</title>
    </circle>
  );
}

function Signals({ v }: { v: View }) {
  const out = v.chart.points.filter((p) => p.signals.length > 0).reverse();
  return (
    <Panel title="Out of the ordinary" aside={`limits from the first ${v.chart.base}`}>
      {out.length === 0 ? (
        <p>No unusual pattern.</p>
      ) : (
        <ul className="grid max-h-72 gap-1 overflow-auto" tabIndex={0} aria-label="Washes that break a run rule">
          {out.map((p) => (
            <li key={p.ref ?? p.at}>
              <Link to={`/bay/${p.ref}`} className="font-semibold underline-offset-4 hover:underline">
                {p.label}
              </Link>{" "}
              <span className="text-faded">
                {day(p.at)} <span className="num">{hour(p.at)}</span>
              </span>
              : <span className="num">{p.value.toFixed(1)}</span>; {p.signals.join("; ")}.
            </li>
          ))}
        </ul>
      )}
      <p className="mt-2 text-sm text-faded">
        Western Electric&apos;s rules and a trend of six, as in the NIST/SEMATECH e-Handbook, 6.3.2.
      </p>
    </Panel>
  );
}

function Versions({ v }: { v: View }) {
  return (
    <Panel title="Before and after a new version">
      {v.versions.length === 0 ? (
        <p>No procedure got a new version in these days.</p>
      ) : (
        <Table caption="Before and after new versions" head={["Procedure", "Since", v.unit]}>
          {v.versions.map((c) => (
            <tr key={c.title + c.version}>
              <th scope="row">
                {c.title}, version {c.version}
              </th>
              <td className="whitespace-nowrap">{day(c.at)}</td>
              <td>{c.words}</td>
            </tr>
          ))}
        </Table>
      )}
    </Panel>
  );
}
