import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { minutes, plural, sentence } from "../kit/format";
import { Choice, Empty, Loading, Panel, Table, Trouble } from "../kit/kit";
import { csv, Csv } from "./Csv";
import { keys } from "../api/keys";

type By = Schemas["Grouping"];
type Cell = Schemas["Cell"];
const groupings: readonly By[] = ["grade", "size", "person", "method", "place"];

/** Stage or step times told apart: who, what, where makes them long. */
export function Kinds({ days }: { days: number }) {
  const [by, setBy] = useState<By>("grade");
  const [of, setOf] = useState<"stages" | "steps">("stages");
  const steps = of === "steps";
  const view = useQuery({
    queryKey: keys.times("by", days, by, steps),
    queryFn: () => ask(client.GET("/times/by", { params: { query: { days, by, steps } } })),
    placeholderData: (was) => was,
  });
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap gap-x-8 gap-y-2">
        <Choice label="By" value={by} onChange={setBy} options={groupings.map((g) => ({ value: g, label: sentence(g) }))} />
        <Choice
          label="Of"
          value={of}
          onChange={setOf}
          options={[
            { value: "stages", label: "Stages" },
            { value: "steps", label: "Steps" },
          ]}
        />
      </div>
      {view.isPending ? (
        <Loading what="the times" />
      ) : !view.data ? (
        <Trouble error={view.error} retry={() => void view.refetch()} />
      ) : view.data.lines.length === 0 ? (
        <Empty>Nothing was timed in these days.</Empty>
      ) : (
        <Panel
          title={`${sentence(of)} by ${view.data.by}: median minutes, and what part of the standard they come to`}
          aside={<Csv href={`${csv("by", days)}&by=${by}&steps=${steps}`} />}
        >
          <Table stacks caption={`${sentence(of)} by ${view.data.by}`} head={[steps ? "Step" : "Stage", ...view.data.kinds.map(sentence)]}>
            {view.data.lines.map((line) => (
              <tr key={line.title}>
                <th scope="row">
                  {line.title}
                  {steps && <span className="block text-sm font-normal text-faded">{line.stage}</span>}
                </th>
                {line.cells.map((c, i) => (
                  <td key={view.data.kinds[i]} data-head={sentence(view.data.kinds[i] ?? "")} className="whitespace-nowrap">
                    <Time c={c} />
                  </td>
                ))}
              </tr>
            ))}
          </Table>
          <p className="mt-2 text-sm text-faded">
            Pauses are apart from these times; outliers are set apart. The middle half of the times, and how many there were, are in the
            table (CSV).
          </p>
        </Panel>
      )}
    </div>
  );
}

function Time({ c }: { c: Cell }) {
  if (c.n === 0) return <span className="text-faded">–</span>;
  const long = c.ratio > 1.15 && c.n > 2;
  return (
    <span title={`${plural(c.n, "timing")}; middle half ${minutes(c.low)} to ${minutes(c.high)}; ${c.apart} set apart`}>
      <span className="num">{minutes(c.median)}</span>
      <span className={`block text-sm ${long ? "font-semibold text-rust" : "text-faded"}`}>
        {Math.round(c.ratio * 100)} % · {c.n} timed
      </span>
    </span>
  );
}
