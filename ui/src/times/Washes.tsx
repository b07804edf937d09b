import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { ask, client } from "../api/client";
import { day, hour, minutes } from "../kit/format";
import { Empty, Loading, Panel, Table, Tag, Trouble } from "../kit/kit";
import { csv, Csv } from "./Csv";
import { keys } from "../api/keys";

/** Every finished wash against its plan. */
export function Washes({ days }: { days: number }) {
  const view = useQuery({
    queryKey: keys.times("washes", days),
    queryFn: () => ask(client.GET("/times/washes", { params: { query: { days } } })),
    placeholderData: (was) => was,
  });
  if (view.isPending) return <Loading what="the washes" />;
  if (!view.data) return <Trouble error={view.error} retry={() => void view.refetch()} />;
  const washes = view.data;
  if (washes.length === 0) return <Empty>No wash was finished in these days.</Empty>;
  return (
    <Panel
      title="Washes"
      aside={
        <span className="flex gap-4">
          <Csv href={csv("washes", days)} />
          <Csv href={csv("steps", days)}>Every step (CSV)</Csv>
        </span>
      }
    >
      <Table stacks caption="Finished washes" head={["When", "Vehicle", "Who", "Procedure", "Grade", "Plan", "Was", "Dwells", "Audit"]}>
        {washes.slice(0, 100).map((w) => (
          <tr key={w.id}>
            <td data-head="When" className="whitespace-nowrap">
              {day(w.at)} <span className="num">{hour(w.at)}</span>
            </td>
            <th scope="row" className="font-normal">
              <Link to={`/bay/${w.id}`} className="underline-offset-4 hover:underline">
                {w.label}
              </Link>
            </th>
            <td data-head="Who" className="whitespace-nowrap">
              {w.washer.name}
            </td>
            <td data-head="Procedure">
              {w.title} <span className="num text-faded">{w.version}</span>
            </td>
            <td data-head="Grade" className="num">
              {w.overall}
            </td>
            <td data-head="Plan" className="num whitespace-nowrap">
              {minutes(w.planned)}
            </td>
            <td data-head="Was" className={`num whitespace-nowrap ${w.actual > w.planned * 1.15 ? "font-semibold text-rust" : ""}`}>
              {minutes(w.actual)}
            </td>
            <td data-head="Dwells" className="whitespace-nowrap">
              {w.missed ? `${w.missed} missed` : "kept"}
            </td>
            <td data-head="Audit">{w.score !== undefined ? <Tag tone={w.score >= 80 ? "moss" : "rust"}>{w.score}</Tag> : "–"}</td>
          </tr>
        ))}
      </Table>
      {washes.length > 100 && <p className="mt-2 text-faded">The newest 100 of {washes.length}; the table (CSV) has all.</p>}
    </Panel>
  );
}
