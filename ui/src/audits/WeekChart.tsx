import { useQuery } from "@tanstack/react-query";
import { type Schemas, ask, client } from "../api/client";
import { keys } from "../api/keys";
import { Across, Along, frame, Plot } from "../chart/Plot";
import { date } from "../kit/format";

type Weeks = Schemas["Weeks"];

/** Fewer weeks than this are no run. */
const leastWeeks = 8;

/** In how many of a hundred audits something was found, week by week: outside the limits it is more, or fewer, than chance. */
export function WeekChart({ query }: { query: Record<string, string | number> & { weeks: number } }) {
  const asked = { ...query, weeks: Math.max(leastWeeks, query.weeks) };
  const weeks = useQuery({
    queryKey: keys.audits("weeks", asked),
    queryFn: () => ask(client.GET("/audit-weeks", { params: { query: asked } })),
    placeholderData: (last) => last,
  }).data;
  if (!weeks) return <div className="h-52" aria-hidden />;
  const csv = `/api/audit-weeks/export?${new URLSearchParams(Object.entries(asked).map(([k, v]) => [k, String(v)])).toString()}`;
  const told = weeks.says.length > 0 ? weeks.says.join(" ") : "No week is more than chance.";
  return (
    <>
      <div className="grid gap-4 xl:grid-cols-2">
        <Chart w={weeks} csv={csv} of={share} says={`${Math.round(100 * weeks.middle)} % over all. ${told}`} />
        <Chart w={weeks} csv={csv} of={each} says={`${weeks.mean.toFixed(1)} an audit over all. ${told}`} />
      </div>
      <p className="mt-1 text-sm text-faded">
        {told} The bands are what chance leaves for so many audits; a square on its corner lies outside.
        {weeks.spread > bunched &&
          ` Findings come in bunches (${weeks.spread.toFixed(1)} times chance): the band on findings is wider for it.`}
      </p>
    </>
  );
}

/** From here on it is said that findings come in bunches. */
const bunched = 1.2;

type Week = Weeks["weeks"][number];

/** What a chart shows of each week, with its limits. */
interface Series {
  name: string;
  unit: string;
  least: number;
  value: (k: Week) => number;
  low: (k: Week) => number;
  high: (k: Week) => number;
  out: (k: Week) => boolean;
  middle: (w: Weeks) => number;
}

const share: Series = {
  name: "Audits with a finding, week by week",
  unit: "% of audits with a finding",
  least: 10,
  value: (k) => 100 * k.share,
  low: (k) => 100 * k.bottom,
  high: (k) => 100 * k.top,
  out: (k) => k.out,
  middle: (w) => 100 * w.middle,
};

const each: Series = {
  name: "Findings per audit, week by week",
  unit: "findings per audit",
  least: 1,
  value: (k) => k.each,
  low: (k) => k.fewest,
  high: (k) => k.most,
  out: (k) => k.beyond,
  middle: (w) => w.mean,
};

const f = frame(560, 210);

function Chart({ w, csv, of, says }: { w: Weeks; csv: string; of: Series; says: string }) {
  const n = w.weeks.length;
  const step = (f.width - f.left - f.right) / n;
  const x = (i: number) => f.left + step * (i + 0.5);
  // A week of few audits has a band beyond all others: what is shown goes up to what was found and the band of most weeks.
  const highs = w.weeks.flatMap((k) => (k.audits > 0 ? [of.high(k)] : [])).sort((a, b) => a - b);
  const highest = Math.max(of.least, 1.1 * (highs[Math.floor(highs.length / 2)] ?? 0), ...w.weeks.map((k) => 1.05 * of.value(k)));
  const y = (v: number) => f.height - f.bottom - ((f.height - f.top - f.bottom) * v) / highest;
  const seen = w.weeks.flatMap((k, i) => (k.audits > 0 ? [{ k, i }] : []));
  const begin = Date.parse(w.weeks[0]?.from ?? "");
  const at = (iso: string) => f.left + (step * (Date.parse(iso) - begin)) / (7 * 24 * 3600_000);
  return (
    <Plot name={of.name} says={says} f={f} csv={csv}>
      <Across f={f} range={[0, highest]} y={y} unit={of.unit} about={4} />
      {seen.map(({ k, i }) => (
        <rect
          key={k.from}
          x={x(i) - step / 2}
          width={step}
          y={y(Math.min(of.high(k), highest))}
          height={Math.max(0, y(of.low(k)) - y(Math.min(of.high(k), highest)))}
          fill="var(--tide-wash)"
        />
      ))}
      <path d={`M${f.left} ${y(of.middle(w))}H${f.width - f.right}`} stroke="var(--faded)" strokeDasharray="5 4" />
      {w.marks.map((m) => (
        <g key={m.label}>
          <path d={`M${at(m.at)} ${f.top}V${f.height - f.bottom}`} stroke="var(--amber)" strokeWidth="2" />
          <text x={at(m.at) + 4} y={f.top + 8} fontSize="11">
            {m.label}
          </text>
        </g>
      ))}
      <path d={`M${seen.map(({ k, i }) => `${x(i)} ${y(of.value(k))}`).join("L")}`} fill="none" stroke="var(--tide)" strokeWidth="2" />
      {seen.map(({ k, i }) =>
        of.out(k) ? (
          <path key={k.from} d={`M${x(i)} ${y(of.value(k)) - 8}l8 8l-8 8l-8 -8z`} fill="var(--rust)" />
        ) : (
          <circle key={k.from} cx={x(i)} cy={y(of.value(k))} r="4" fill="var(--tide)" />
        ),
      )}
      <Along f={f} x={x} at={every(n)} say={(i) => date(w.weeks[i]?.from ?? "")} />
    </Plot>
  );
}

/** Which weeks are named along the foot: not more than fit. */
const every = (n: number) => Array.from({ length: n }, (_, i) => i).filter((i) => (n - 1 - i) % Math.ceil(n / 9) === 0);
