import { useQuery } from "@tanstack/react-query";
import { type Schemas, ask, client } from "../api/client";
import { Across, Along, frame, Plot } from "../chart/Plot";
import { room, scale, ticks } from "../chart/scale";
import { day, plural } from "../kit/format";
import { Empty, Loading, Panel, Tag, Trouble } from "../kit/kit";
import { csv, Csv } from "./Csv";
import { keys } from "../api/keys";

type Way = Schemas["Learning"];

/** Each person's times by repetition, beside what the audits found: technique before speed. */
export function Learning({ days }: { days: number }) {
  const view = useQuery({
    queryKey: keys.times("learning", days),
    queryFn: () => ask(client.GET("/times/learning", { params: { query: { days } } })),
    placeholderData: (was) => was,
  });
  if (view.isPending) return <Loading what="the curves" />;
  if (!view.data) return <Trouble error={view.error} retry={() => void view.refetch()} />;
  const { people } = view.data;
  if (people.length === 0) return <Empty>No wash of yours was finished in these days.</Empty>;
  return (
    <>
      <p className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-1 text-sm">
        <span className="flex items-center gap-1.5">
          <svg width="14" height="14" aria-hidden>
            <circle cx="7" cy="7" r="4" fill="var(--moss)" />
          </svg>
          nothing found
        </span>
        <span className="flex items-center gap-1.5">
          <svg width="16" height="16" aria-hidden>
            <path d="M8 1L15 8L8 15L1 8Z" fill="var(--rust)" />
          </svg>
          findings, as many as it says
        </span>
        <span className="flex items-center gap-1.5">
          <svg width="22" height="14" aria-hidden>
            <rect width="22" height="14" fill="var(--ink)" opacity="0.1" />
            <path d="M0 5Q10 9 22 10" fill="none" stroke="var(--ink)" strokeWidth="2" />
          </svg>
          expected by Wright&apos;s curve; four of five lie in the band
        </span>
        <Csv href={csv("learning", days)} />
      </p>
      <div className="grid gap-4 xl:grid-cols-2">
        {people.map((p) => (
          <Panel key={p.person} title={p.name} aside={p.trainee ? <Tag>trainee</Tag> : plural(p.washes.length, "wash", "washes")}>
            <Curve p={p} />
            <p className="mt-2">{p.words}</p>
          </Panel>
        ))}
      </div>
    </>
  );
}

function Curve({ p }: { p: Way }) {
  const f = frame(560, 230);
  const n = p.washes.length;
  const first = p.before + 1;
  const last = Math.max(p.before + n, first + 1);
  const x = scale([first, last], [f.left + 8, f.width - f.right - 8]);
  const fitted = p.next > 0;
  const range = room([100, ...p.washes.map((w) => w.percent), ...(fitted ? p.washes.map((w) => w.high) : [])]);
  const y = scale(range, [f.height - f.bottom, f.top]);
  const line = (of: (w: Way["washes"][number]) => number, ws = p.washes) =>
    ws.map((w, i) => `${i ? "L" : "M"}${x(w.n)} ${y(of(w))}`).join("");
  const hasty = p.washes.filter((w) => w.hasty).length;
  return (
    <Plot
      name={`${p.name}, learning`}
      says={`${n} washes, hands-on time in % of the standard${fitted ? `; next expected ${Math.round(p.next)}` : ""}; ${hasty} were fast, with findings.`}
      f={f}
    >
      <Across f={f} range={range} y={y} unit="hands-on time, % of the standard" />
      <path d={`M${f.left} ${y(100)}H${f.width - f.right}`} stroke="var(--tide)" strokeWidth="2" />
      {fitted && (
        <>
          <path
            d={`${line((w) => w.high)}${line((w) => w.low, [...p.washes].reverse()).replace("M", "L")}Z`}
            fill="var(--ink)"
            opacity="0.1"
          />
          <path d={line((w) => w.expected)} fill="none" stroke="var(--ink)" strokeWidth="2" />
        </>
      )}
      {p.washes.map((w) => (
        <g key={w.wash}>
          <title>{`Wash ${w.n}, ${day(w.at)}: ${Math.round(w.percent)} %, ${plural(w.findings, "finding")}${w.hasty ? ", fast, with findings" : ""}`}</title>
          {w.findings > 0 ? (
            <>
              <path
                d={`M${x(w.n)} ${y(w.percent) - 8}l8 8l-8 8l-8 -8Z`}
                fill="var(--rust)"
                stroke={w.hasty ? "var(--ink)" : "none"}
                strokeWidth="2"
              />
              <text
                x={x(w.n)}
                y={y(w.percent)}
                textAnchor="middle"
                dominantBaseline="central"
                fontSize="10"
                fontWeight="700"
                fill="var(--paper)"
              >
                {w.findings}
              </text>
            </>
          ) : (
            <circle cx={x(w.n)} cy={y(w.percent)} r="4" fill="var(--moss)" />
          )}
        </g>
      ))}
      <Along f={f} x={x} at={ticks(first, last, 8).filter(Number.isInteger)} say={String} />
    </Plot>
  );
}
