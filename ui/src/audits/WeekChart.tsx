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
  return <Chart w={weeks} csv={csv} />;
}

const f = frame(720, 210);

function Chart({ w, csv }: { w: Weeks; csv: string }) {
  const n = w.weeks.length;
  const step = (f.width - f.left - f.right) / n;
  const x = (i: number) => f.left + step * (i + 0.5);
  const highest = Math.max(10, ...w.weeks.filter((k) => k.audits > 0).map((k) => 100 * Math.max(k.share, Math.min(k.top, 1))));
  const y = (v: number) => f.height - f.bottom - ((f.height - f.top - f.bottom) * v) / highest;
  const seen = w.weeks.flatMap((k, i) => (k.audits > 0 ? [{ k, i }] : []));
  const begin = Date.parse(w.weeks[0]?.from ?? "");
  const at = (iso: string) => f.left + (step * (Date.parse(iso) - begin)) / (7 * 24 * 3600_000);
  const told = w.says.length > 0 ? w.says.join(" ") : "No week is more than chance.";
  return (
    <>
      <Plot name="Findings week by week" says={`${Math.round(100 * w.middle)} % over all. ${told}`} f={f} csv={csv}>
        <Across f={f} range={[0, highest]} y={y} unit="% of audits with a finding" about={4} />
        {seen.map(({ k, i }) => (
          <rect
            key={k.from}
            x={x(i) - step / 2}
            width={step}
            y={y(100 * k.top)}
            height={Math.max(0, y(100 * k.bottom) - y(100 * k.top))}
            fill="var(--tide-wash)"
          />
        ))}
        <path d={`M${f.left} ${y(100 * w.middle)}H${f.width - f.right}`} stroke="var(--faded)" strokeDasharray="5 4" />
        {w.marks.map((m) => (
          <g key={m.label}>
            <path d={`M${at(m.at)} ${f.top}V${f.height - f.bottom}`} stroke="var(--amber)" strokeWidth="2" />
            <text x={at(m.at) + 4} y={f.top + 8} fontSize="11">
              {m.label}
            </text>
          </g>
        ))}
        <path d={`M${seen.map(({ k, i }) => `${x(i)} ${y(100 * k.share)}`).join("L")}`} fill="none" stroke="var(--tide)" strokeWidth="2" />
        {seen.map(({ k, i }) =>
          k.out ? (
            <path key={k.from} d={`M${x(i)} ${y(100 * k.share) - 8}l8 8l-8 8l-8 -8z`} fill="var(--rust)" />
          ) : (
            <circle key={k.from} cx={x(i)} cy={y(100 * k.share)} r="4" fill="var(--tide)" />
          ),
        )}
        <Along f={f} x={x} at={every(n)} say={(i) => date(w.weeks[i]?.from ?? "")} />
      </Plot>
      <p className="mt-1 text-sm text-faded">
        {told} The band is what chance leaves for so many audits; a square on its corner lies outside.
      </p>
    </>
  );
}

/** Which weeks are named along the foot: not more than fit. */
const every = (n: number) => Array.from({ length: n }, (_, i) => i).filter((i) => (n - 1 - i) % Math.ceil(n / 9) === 0);
