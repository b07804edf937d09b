import { useQuery } from "@tanstack/react-query";
import { type Schemas, ask, client } from "../api/client";
import { keys } from "../api/keys";
import { plural, sentence } from "../kit/format";
import { Empty, Figure, Loading, Panel, Table, Tag, Trouble } from "../kit/kit";

const percent = (x: number) => `${Math.round(100 * x)} %`;

/** How far two people grade the same cars alike, by band, and what it costs where they do not. */
export function Graders() {
  const grading = useQuery({ queryKey: keys.audits("grading"), queryFn: () => ask(client.GET("/grading")) });
  if (grading.isPending) return <Loading what="how far graders agree" />;
  if (!grading.data) return <Trouble error={grading.error} retry={() => void grading.refetch()} />;
  const v = grading.data;
  if (v.cars === 0)
    return (
      <Panel title="Do graders agree?">
        <Empty>No car has been graded twice yet. Those that wait for their wash are offered on the page of the look-over.</Empty>
      </Panel>
    );
  return (
    <Panel title="Do graders agree?" aside={`${plural(v.cars, "car")}, ${v.overall.pairs} parts by both`}>
      <div className="mb-3 flex flex-wrap gap-x-9 gap-y-2">
        <Figure value={percent(v.overall.same)} label="graded the same" />
        {v.overall.known && (
          <Figure
            value={`${v.overall.kappa.toFixed(2)} ± ${(1.96 * v.overall.error).toFixed(2)}`}
            label="beyond chance, by how far apart (kappa)"
          />
        )}
        <Figure value={`${v.decides} of ${v.cars}`} label="another grade decides" />
      </div>
      {v.says.length > 0 && (
        <ul className="mb-3 grid gap-1">
          {v.says.map((s) => (
            <li key={s}>{s}</li>
          ))}
        </ul>
      )}
      <div className="grid gap-4 lg:grid-cols-2">
        <Table caption="Agreement by band" head={["Part of the car", "By both", "Same", "Kappa"]}>
          {v.bands.map((b) => (
            <tr key={b.band}>
              <th scope="row" className="font-normal">
                {sentence(b.band)}
              </th>
              <td className="num">{b.agreement.pairs}</td>
              <td className="num">{percent(b.agreement.same)}</td>
              <td className="num">{b.agreement.known ? b.agreement.kappa.toFixed(2) : "–"}</td>
            </tr>
          ))}
        </Table>
        {v.people.length > 0 && <People all={v.people} />}
      </div>
    </Panel>
  );
}

function People({ all }: { all: Schemas["GraderSeen"][] }) {
  return (
    <Table caption="Who grades dirtier; only leads see this" head={["Who", "Cars", "Dirtier", "Cleaner", ""]}>
      {all.map((p) => (
        <tr key={p.id}>
          <th scope="row" className="font-normal">
            {p.name}
          </th>
          <td className="num">{p.cars}</td>
          <td className="num">{p.higher}</td>
          <td className="num">{p.lower}</td>
          <td>{p.says && <Tag tone="amber">{p.higher > p.lower ? "dirtier" : "cleaner"}</Tag>}</td>
        </tr>
      ))}
    </Table>
  );
}
