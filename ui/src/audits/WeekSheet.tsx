import { useQuery } from "@tanstack/react-query";
import { type Schemas, ask, client } from "../api/client";
import { keys } from "../api/keys";
import { useMe } from "../api/shop";
import { day, minutes, plural, sentence } from "../kit/format";
import { Button, Empty, Figure, Head, LinkButton, Loading, Panel, Trouble } from "../kit/kit";
import { WeekChart } from "./WeekChart";

/** The week for the wall: what was looked at, what was found, what it cost, what is done about it. Nobody is named by what was found. */
export function WeekSheet() {
  const me = useMe().data;
  const found = useQuery({
    queryKey: keys.audits("findings", "week"),
    queryFn: () => ask(client.GET("/findings", { params: { query: { weeks: 1 } } })),
  });
  const remedies = useQuery({ queryKey: keys.audits("remedies"), queryFn: () => ask(client.GET("/remedies")) });
  if (found.isPending) return <Loading what="the week" />;
  if (!found.data) return <Trouble error={found.error} retry={() => void found.refetch()} />;
  const v = found.data;
  const open = (remedies.data ?? []).filter((r) => !r.closedAt && !r.remedy.pattern.washer);
  return (
    <>
      <style>{`@page { margin: 12mm } @media print { body { background: white } section { break-inside: avoid } }`}</style>
      <Head title="The week" sub={`${me?.shopName ?? ""} · the last seven days, for the wall`}>
        <span className="no-print flex flex-wrap gap-2">
          <LinkButton to="/audits/findings">Findings</LinkButton>
          <Button look="act" onClick={() => window.print()}>
            Print
          </Button>
        </span>
      </Head>
      <div className="mb-4 flex flex-wrap gap-x-9 gap-y-2">
        <Figure value={String(v.audits)} label={v.audits === 1 ? "wash audited" : "washes audited"} />
        <Figure value={`${v.audits - v.with} of ${v.audits}`} label="without a finding" />
        <Figure value={minutes(v.rework)} label="of rework" />
        <Figure value={minutes(v.putRight)} label="put right on the spot" />
        <Figure value={String(v.missed)} label="passed, then complained of" />
      </div>
      <div className="grid gap-4 lg:grid-cols-2">
        <Most v={v} by="kind" title="Found most" />
        <Most v={v} by="zone" title="Where" />
      </div>
      <div className="mt-4 grid gap-4">
        <Panel title="Week by week">
          <WeekChart query={{ weeks: 12 }} />
        </Panel>
        <Panel title="What is done about it">
          {open.length === 0 && <Empty>Nothing is taken up.</Empty>}
          <ul className="grid gap-2">
            {open.map((r) => (
              <li key={r.id} className="border-l-4 border-line pl-3">
                <b>{r.remedy.title}</b>: {sentence(r.remedy.act)}
                {r.where && `, ${r.where}`}. {r.actedAt ? `Since ${day(r.actedAt)}.` : `${r.owner.name}, by ${day(r.remedy.due)}.`}
                <span className="block text-faded">{r.measured.says}</span>
              </li>
            ))}
          </ul>
        </Panel>
      </div>
    </>
  );
}

const shown = 5;

function Most({ v, by, title }: { v: Schemas["FindingsView"]; by: Schemas["Tally"]["by"]; title: string }) {
  const rows = v.tallies.find((t) => t.by === by)?.rows ?? [];
  return (
    <Panel title={title}>
      {rows.length === 0 && <Empty>Nothing.</Empty>}
      <ol className="grid gap-1">
        {rows.slice(0, shown).map((r) => (
          <li key={r.key} className="flex justify-between gap-3">
            <span>{sentence(r.label)}</span>
            <span className="num">{`${r.findings} in ${plural(r.with, "wash", "washes")}`}</span>
          </li>
        ))}
      </ol>
    </Panel>
  );
}
