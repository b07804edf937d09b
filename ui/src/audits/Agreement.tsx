import { useQuery } from "@tanstack/react-query";
import { ask, client } from "../api/client";
import { keys } from "../api/keys";
import { plural } from "../kit/format";
import { Graders } from "./Graders";
import { Empty, Figure, Head, LinkButton, Loading, Panel, Table, Tag, Trouble } from "../kit/kit";

const percent = (x: number) => `${Math.round(100 * x)} %`;

/** How far two people who walked the same washes answered alike: over all, by look, by person. */
export function Agreement() {
  const agreed = useQuery({ queryKey: keys.audits("agreement"), queryFn: () => ask(client.GET("/agreement")) });
  if (agreed.isPending) return <Loading what="how far auditors agree" />;
  if (!agreed.data) return <Trouble error={agreed.error} retry={() => void agreed.refetch()} />;
  const v = agreed.data;
  const o = v.overall;
  return (
    <>
      <Head title="Do auditors agree?" sub="Washes of half a year that two people walked, the second without seeing what the first found.">
        <LinkButton to="/audits/calibration">Calibration set</LinkButton>
        <LinkButton to="/audits">Audits</LinkButton>
      </Head>
      {v.washes === 0 ? (
        <Empty>
          No wash has been walked twice yet. Signed audits whose vehicle still stands here are offered on the page of the audits.
        </Empty>
      ) : (
        <div className="grid gap-4">
          <div className="flex flex-wrap gap-x-9 gap-y-2">
            <Figure value={`${v.washes}`} label={`washes, ${o.pairs} looks by both`} />
            <Figure value={percent(o.same)} label="answered the same" />
            <Figure value={o.either > 0 ? percent(o.found) : "–"} label="of what either found, both found" />
            <Figure value={o.first.toFixed(2)} label="beyond chance, holds where findings are rare (AC1)" />
            {o.known && (
              <Figure value={`${o.kappa.toFixed(2)} ± ${(1.96 * o.error).toFixed(2)}`} label="beyond chance, by how bad (kappa)" />
            )}
          </div>
          <p className="max-w-4xl rounded-xl border-2 border-line bg-paper p-3">
            Nearly everything passes, so that answering the same says little: two who never look agree too. What both found says more.
            {o.known &&
              (o.need > o.pairs
                ? ` Kappa would need some ${o.need} looks by both to be known to 0.2 either way; there are ${o.pairs}.`
                : " There are enough looks to know kappa to 0.2 either way.")}
          </p>
          {v.says.length > 0 && (
            <ul className="grid max-w-4xl gap-1 rounded-xl border-2 border-amber bg-amber-wash p-3">
              {v.says.map((s) => (
                <li key={s} className="font-semibold">
                  {s}
                </li>
              ))}
            </ul>
          )}
          <div className="grid gap-4 xl:grid-cols-2">
            <Panel title="By look" aside="the least agreed first">
              <Table caption="Agreement by look" head={["Look", "Both", "Same", "Both found", "AC1"]}>
                {v.items.map((i) => (
                  <tr key={`${i.list} ${i.item}`}>
                    <th scope="row" className="font-normal">
                      {i.title} {i.says && <Tag tone="amber">vague</Tag>}
                    </th>
                    <td className="num">{i.agreement.pairs}</td>
                    <td className="num">{percent(i.agreement.same)}</td>
                    <td className="num">{i.agreement.either > 0 ? percent(i.agreement.found) : "–"}</td>
                    <td className="num">{i.agreement.first.toFixed(2)}</td>
                  </tr>
                ))}
              </Table>
            </Panel>
            {v.people.length > 0 && (
              <Panel title="By person" aside="found alone, against those who walked the same washes">
                <Table caption="Who finds more" head={["Who", "Looks by both", "Found alone", "Other alone", ""]}>
                  {v.people.map((p) => (
                    <tr key={p.id}>
                      <th scope="row" className="font-normal">
                        {p.name}
                      </th>
                      <td className="num">{p.pairs}</td>
                      <td className="num">{p.alone}</td>
                      <td className="num">{p.other}</td>
                      <td>{p.says && <Tag tone="amber">{p.alone > p.other ? "stricter" : "more lenient"}</Tag>}</td>
                    </tr>
                  ))}
                </Table>
                <p className="mt-2 text-sm text-faded">{`${plural(v.people.length, "person", "people")}. Only a lead sees this.`}</p>
              </Panel>
            )}
          </div>
        </div>
      )}
      <div className="mt-4">
        <Graders />
      </div>
    </>
  );
}
