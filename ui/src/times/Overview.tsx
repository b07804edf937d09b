import { useQuery } from "@tanstack/react-query";
import { type Schemas, ask, client } from "../api/client";
import { minutes, plural } from "../kit/format";
import { Empty, Figure, Loading, Panel, Table, Trouble } from "../kit/kit";
import { csv, Csv } from "./Csv";
import { keys } from "../api/keys";

type Times = Schemas["Totals"];

/** What would save most, a week; then stages against the standard and against each other. */
export function Overview({ days }: { days: number }) {
  const times = useQuery({
    queryKey: keys.times(days),
    queryFn: () => ask(client.GET("/times", { params: { query: { days } } })),
    placeholderData: (was) => was,
  });
  if (times.isPending) return <Loading what="the times" />;
  if (!times.data) return <Trouble error={times.error} retry={() => void times.refetch()} />;
  const t = times.data;
  if (t.count === 0) return <Empty>No wash was finished in these days. Times come from the taps in the bay.</Empty>;
  return (
    <div className="grid gap-4 xl:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <Panel title="What would save most" aside={<Csv href={csv("savings", days)} />}>
        <Savings savings={t.savings} />
      </Panel>
      <Panel title="In these washes">
        <Figures t={t} />
        <Shares shares={t.shares} />
      </Panel>
      <Panel title="Stages against standard" aside={<Csv href={csv("stages", days)} />} className="xl:col-span-2">
        <Table
          stacks
          caption="Stage times against standard"
          head={["Stage", "Washes", "Standard", "Median", "Middle half", "", "Over standard in all"]}
        >
          {t.stages.map((s) => (
            <tr key={s.stage}>
              <th scope="row">{s.stage}</th>
              <td data-head="Washes" className="num">
                {s.washes}
              </td>
              <td data-head="Standard" className="num whitespace-nowrap">
                {minutes(s.planned)}
              </td>
              <td data-head="Median" className="num whitespace-nowrap">
                {minutes(s.median)}
              </td>
              <td data-head="Middle half" className="num whitespace-nowrap">
                {s.low.toFixed(1)} to {minutes(s.high)}
              </td>
              <td className="w-48 max-sm:order-last max-sm:col-span-2 max-sm:w-auto">
                <Spread s={s} />
              </td>
              <td
                data-head="Over standard in all"
                className={`num whitespace-nowrap ${s.minutes > 0 ? "font-semibold text-rust" : "text-moss"}`}
              >
                {s.minutes > 0 ? "+" : "−"}
                {minutes(Math.abs(s.minutes))}
              </td>
            </tr>
          ))}
        </Table>
      </Panel>
    </div>
  );
}

function Savings({ savings }: { savings: Times["savings"] }) {
  if (savings.length === 0) return <p>Nothing wastes a minute a week.</p>;
  const most = savings[0]?.minutes ?? 1;
  return (
    <ol className="grid gap-3">
      {savings.map((s) => (
        <li key={s.what}>
          <p className="flex items-baseline justify-between gap-3">
            <b>{s.what}</b>
            <span className="num shrink-0 text-lg font-semibold">{minutes(s.minutes)} a week</span>
          </p>
          <span className="mt-0.5 block h-2.5 rounded-sm bg-line" aria-hidden>
            <span className="block h-full rounded-sm bg-ink" style={{ width: `${(s.minutes / most) * 100}%` }} />
          </span>
          <p className="mt-0.5 text-sm text-faded">
            Counted: {s.from}. {s.do}
          </p>
        </li>
      ))}
    </ol>
  );
}

function Figures({ t }: { t: Times }) {
  const dwells = t.kept + t.missed;
  return (
    <div className="mb-4 flex flex-wrap gap-x-8 gap-y-2">
      <Figure value={String(t.count)} label="washes" />
      <Figure value={`${Math.round((t.actual / Math.max(1, t.planned)) * 100)} %`} label="of the planned hands-on time" />
      <Figure
        value={t.count ? `${Math.round((t.inTime / t.count) * 100)} %` : "–"}
        label={t.count ? `washed by the promise, ${t.count - t.inTime} late` : "no promises"}
        tone={t.inTime < 0.9 * t.count ? "text-rust" : "text-ink"}
      />
      <Figure value={minutes(t.idle)} label="product working alone, a wash" />
      <Figure
        value={dwells ? `${Math.round((t.kept / dwells) * 100)} %` : "–"}
        label={dwells ? `of dwells kept, ${t.missed} missed` : "no dwells"}
        tone={t.missed * 10 > dwells ? "text-rust" : "text-ink"}
      />
      <Figure
        value={t.asked ? `${Math.round((t.rinses / t.asked) * 100)} %` : "–"}
        label={t.asked ? `of the mitt's rinses: ${t.rinses} of ${plural(t.asked, "asked for", "asked for")}` : "no rinse was tapped"}
        tone={t.asked && t.rinses < 0.9 * t.asked ? "text-rust" : "text-ink"}
      />
    </div>
  );
}

/** What part of the hands-on time each stage takes, beside what it should. */
function Shares({ shares }: { shares: Times["shares"] }) {
  const top = Math.max(...shares.flatMap((s) => [s.share, s.planned]), 0.01);
  return (
    <Table caption="Stages as parts of the wash" head={["Stage", "Part of the hands-on time; the upright is by standard", "A wash"]}>
      {shares.map((s) => (
        <tr key={s.stage}>
          <th scope="row" className="whitespace-nowrap">
            {s.stage}
          </th>
          <td className="w-full">
            <span
              className="relative block h-5"
              role="img"
              aria-label={`${Math.round(s.share * 100)} %, by standard ${Math.round(s.planned * 100)} %`}
            >
              <span className="absolute top-1 block h-3 rounded-r bg-ink/50" style={{ width: `${(s.share / top) * 80}%` }} />
              <span className="absolute top-0 block h-5 w-1 bg-tide" style={{ left: `${(s.planned / top) * 80}%` }} />
              <span className="num absolute right-0 text-sm">{Math.round(s.share * 100)} %</span>
            </span>
          </td>
          <td className="num whitespace-nowrap">{minutes(s.minutes)}</td>
        </tr>
      ))}
    </Table>
  );
}

/** Standard, median and middle half on one line: the standard is the upright, the bar the middle half, the dot the median. */
function Spread({ s }: { s: Schemas["Summary"] }) {
  const top = Math.max(s.high, s.planned) * 1.15;
  const x = (m: number) => (m / top) * 180;
  return (
    <svg
      viewBox="0 0 184 18"
      className="w-full min-w-36"
      role="img"
      aria-label={`standard ${minutes(s.planned)}, median ${minutes(s.median)}`}
    >
      <path d="M0 9H180" stroke="var(--line)" />
      <rect
        x={x(s.low)}
        y="5"
        width={Math.max(2, x(s.high) - x(s.low))}
        height="8"
        rx="2"
        fill={s.ratio > 1.1 ? "var(--rust)" : "var(--ink)"}
        opacity="0.45"
      />
      <circle cx={x(s.median)} cy="9" r="5" fill={s.ratio > 1.1 ? "var(--rust)" : "var(--ink)"} />
      <path d={`M${x(s.planned)} 0V18`} stroke="var(--tide)" strokeWidth="3" />
    </svg>
  );
}
