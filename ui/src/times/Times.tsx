import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { day, hour, minutes, plural } from "../kit/format";
import { Choice, Empty, Figure, Head, Loading, Panel, Table, Tag, Trouble } from "../kit/kit";

export function Times() {
  const [days, setDays] = useState<"7" | "14" | "90">("14");
  const times = useQuery({
    queryKey: ["times", days],
    queryFn: () => ask(client.GET("/times", { params: { query: { days: Number(days) } } })),
  });
  if (times.isPending) return <Loading what="the times" />;
  if (!times.data) return <Trouble error={times.error} retry={() => void times.refetch()} />;
  const { stages, washes } = times.data;
  const over = stages.filter((s) => s.minutes > 0);
  const worst = over[0];
  const kept = washes.reduce((sum, w) => sum + w.kept, 0);
  const dwells = kept + washes.reduce((sum, w) => sum + w.missed, 0);
  return (
    <>
      <Head
        title="Times"
        sub={
          worst
            ? `${worst.stage} costs most over plan: ${minutes(worst.minutes)} in ${plural(worst.washes, "wash", "washes")}.`
            : "No stage runs over its plan."
        }
      >
        <Choice
          label="Last"
          value={days}
          onChange={setDays}
          options={[
            { value: "7", label: "7 days" },
            { value: "14", label: "14 days" },
            { value: "90", label: "90 days" },
          ]}
        />
      </Head>
      {washes.length === 0 ? (
        <Empty>No wash was finished in these days. Times come from the taps in the bay.</Empty>
      ) : (
        <div className="grid gap-4 2xl:grid-cols-2">
          <Panel title="Stages against plan">
            <div className="mb-3 flex flex-wrap gap-x-9 gap-y-2">
              <Figure value={String(washes.length)} label="washes" />
              <Figure
                value={`${Math.round(
                  (washes.reduce((s, w) => s + w.actual, 0) /
                    Math.max(
                      1,
                      washes.reduce((s, w) => s + w.planned, 0),
                    )) *
                    100,
                )} %`}
                label="of the planned hands-on time"
              />
              <Figure value={dwells ? `${Math.round((kept / dwells) * 100)} %` : "–"} label="of dwells kept" />
            </div>
            <Table caption="Stage times against plan" head={["Stage", "Washes", "Plan", "Median", "Middle half", "", "Over plan in all"]}>
              {stages.map((s) => (
                <tr key={s.stage}>
                  <th scope="row">{s.stage}</th>
                  <td className="num">{s.washes}</td>
                  <td className="num whitespace-nowrap">{minutes(s.planned)}</td>
                  <td className="num whitespace-nowrap">{minutes(s.median)}</td>
                  <td className="num whitespace-nowrap">
                    {s.low.toFixed(1)} to {minutes(s.high)}
                  </td>
                  <td className="w-48">
                    <Spread s={s} />
                  </td>
                  <td className={`num whitespace-nowrap ${s.minutes > 0 ? "font-semibold text-rust" : "text-moss"}`}>
                    {s.minutes > 0 ? "+" : "−"}
                    {minutes(Math.abs(s.minutes))}
                  </td>
                </tr>
              ))}
            </Table>
          </Panel>
          <Panel title="Washes">
            <Table caption="Finished washes" head={["When", "Vehicle", "Who", "Grade", "Plan", "Was", "Dwells", "Audit"]}>
              {washes.slice(0, 30).map((w) => (
                <tr key={w.id}>
                  <td className="whitespace-nowrap">
                    {day(w.at)} <span className="num">{hour(w.at)}</span>
                  </td>
                  <th scope="row" className="font-normal">
                    {w.label}
                  </th>
                  <td className="whitespace-nowrap">{w.washer.name}</td>
                  <td className="num">{w.overall}</td>
                  <td className="num whitespace-nowrap">{minutes(w.planned)}</td>
                  <td className={`num whitespace-nowrap ${w.actual > w.planned * 1.15 ? "font-semibold text-rust" : ""}`}>
                    {minutes(w.actual)}
                  </td>
                  <td className="whitespace-nowrap">{w.missed ? `${w.missed} missed` : "kept"}</td>
                  <td>{w.score !== undefined ? <Tag tone={w.score >= 80 ? "moss" : "rust"}>{w.score}</Tag> : "–"}</td>
                </tr>
              ))}
            </Table>
          </Panel>
        </div>
      )}
    </>
  );
}

/** Plan, median and middle half on one line: plan is the upright, the bar the middle half, the dot the median. */
function Spread({ s }: { s: Schemas["Summary"] }) {
  const top = Math.max(s.high, s.planned) * 1.15;
  const x = (m: number) => (m / top) * 180;
  return (
    <svg viewBox="0 0 184 18" className="w-full min-w-36" role="img" aria-label={`plan ${minutes(s.planned)}, median ${minutes(s.median)}`}>
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
