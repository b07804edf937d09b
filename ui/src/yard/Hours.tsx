import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { ask, client } from "../api/client";
import { hour, plural, seconds, sentence, useQuantities } from "../kit/format";
import { Away, Panel, Table } from "../kit/kit";
import { keys } from "../api/keys";

type Hour = Schemas["Hour"];

/** The hours of today for washing under the open sky: how long what a mitt leaves stays wet on the panel that dries first. */
export function Hours({ now }: { now: string }) {
  const day = useQuery({ queryKey: keys.weather(), queryFn: () => ask(client.GET("/weather")), staleTime: 600_000 });
  const hours = day.data;
  const q = useQuantities();
  if (day.error && !hours) return <Away title="Today under the open sky" query={day} />;
  if (!hours?.length) return null;
  const worst = (h: Hour) => Math.min(h.top, ...Object.values(h.sides));
  const good = hours.filter((h) => h.good);
  const people = [...new Set(hours.flatMap((h) => h.people))];
  const tallest = 1800; // s: half an hour is as good as endless here
  return (
    <Panel
      title="Today under the open sky"
      aside={
        good.length ? `${plural(good.length, "good hour")}: ${stretches(good)}` : "no good hour: shade or a roof, one section at a time"
      }
    >
      <div
        className="flex items-end gap-1"
        role="img"
        aria-label={`Suds stay wet, hour by hour. Good hours: ${good.length ? stretches(good) : "none"}.`}
      >
        {hours.map((h) => {
          const current = now.slice(0, 13) === h.at.slice(0, 13);
          return (
            <div key={h.at} className="min-w-0 grow text-center" title={`${hour(h.at)}: ${h.verdict}`}>
              <div className="flex h-20 items-end">
                <div
                  className={`w-full rounded-t ${h.good ? "bg-tide" : h.weather.rain > 0 ? "border-2 border-dashed border-faded" : "bg-line"}`}
                  style={{ height: `${Math.max(4, Math.sqrt(Math.min(worst(h), tallest) / tallest) * 100)}%` }}
                />
              </div>
              <div className={`num text-xs ${current ? "rounded bg-ink font-bold text-paper" : "text-faded"}`}>
                {hour(h.at).slice(0, 2)}
              </div>
            </div>
          );
        })}
      </div>
      {people.map((p) => (
        <p key={p} className="mt-2 font-semibold">
          For those who work in it: {p}
        </p>
      ))}
      <details className="mt-2">
        <summary className="font-semibold text-tide">Hour by hour, by where a panel faces</summary>
        <Table
          caption="How long suds stay wet, hour by hour"
          head={["Hour", "Weather", "Faces north", "East", "South", "West", "Dark roof", "White roof", "In shade", "So"]}
        >
          {hours.map((h) => (
            <tr key={h.at} className={h.good ? "font-semibold" : ""}>
              <th scope="row" className="num">
                {hour(h.at)}
              </th>
              <td className="whitespace-nowrap">
                {q.temp(h.weather.temp)}, {Math.round(h.weather.rh * 100)} %, {q.speed(h.weather.wind)}
                {h.weather.rain > 0 && ", rain"}
              </td>
              {["north", "east", "south", "west"].map((side) => (
                <td key={side} className="num">
                  {wet(h.sides[side] ?? 0)}
                </td>
              ))}
              <td className="num">{wet(h.top)}</td>
              <td className="num">{wet(h.white)}</td>
              <td className="num">{wet(h.shade)}</td>
              <td>{sentence(h.verdict)}</td>
            </tr>
          ))}
        </Table>
        <p className="mt-1 text-sm text-faded">
          The same energy balance as above, with the forecast of each hour; dark panels unless it says otherwise. Heat index and wind chill
          by the U.S. National Weather Service.
        </p>
      </details>
    </Panel>
  );
}

const wet = (s: number) => (s >= 7200 ? "2 h +" : seconds(s >= 600 ? Math.round(s / 60) * 60 : s));

/** "6 to 9, 17 to 20" */
function stretches(hours: Hour[]) {
  const said: string[] = [];
  let from = 0;
  for (let i = 0; i < hours.length; i++) {
    const next = hours[i + 1];
    if (next && Date.parse(next.at) - Date.parse(hours[i]?.at ?? "") === 3_600_000) continue;
    const end = new Date(Date.parse(hours[i]?.at ?? "") + 3_600_000);
    said.push(`${hour(hours[from]?.at ?? "").slice(0, 2)} to ${hour(end).slice(0, 2)}`);
    from = i + 1;
  }
  return said.join(", ");
}
