import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";
import { Link, useSearchParams } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { keys } from "../api/keys";
import { useMay } from "../api/shop";
import { day, minutes, plural, seconds, sentence } from "../kit/format";
import { Choice, Empty, Figure, Head, LinkButton, Loading, Panel, Table, Tag, Trouble } from "../kit/kit";

import { WeekChart } from "./WeekChart";

type View = Schemas["FindingsView"];
type Tally = Schemas["Tally"];
type By = Tally["by"];

const titles: Record<By, string> = {
  kind: "What",
  zone: "Where",
  skill: "Which skill",
  washer: "Who washed",
  procedure: "By which procedure",
  weekday: "On which day",
  place: "Where it stood",
  sun: "Under which sky",
  hour: "At which hour it was audited",
  cloths: "With which cloths",
  product: "With which product",
  "left out": "With a step left out in the bay",
  check: "With a check on the way",
};

/** What can be narrowed by a tap on its row. */
const narrows: By[] = ["kind", "zone", "skill", "washer", "procedure", "place"];

/** What audits found, counted per audit; a tap on a row narrows it, and every finding leads to its audit. */
export function Findings() {
  const may = useMay();
  const [asked, setAsked] = useSearchParams();
  const weeks = Number(asked.get("weeks") ?? 8);
  const chosen = narrows.flatMap((by) => (asked.get(by) ? [{ by, key: asked.get(by) ?? "" }] : []));
  const query = { weeks, ...Object.fromEntries(chosen.map((c) => [c.by, c.key])) };
  const found = useQuery({
    queryKey: keys.audits("findings", query),
    queryFn: () => ask(client.GET("/findings", { params: { query } })),
    placeholderData: (last) => last,
  });
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(asked);
    if (value) next.set(key, value);
    else next.delete(key);
    setAsked(next, { replace: true });
  };
  if (found.isPending) return <Loading what="the findings" />;
  if (!found.data) return <Trouble error={found.error} retry={() => void found.refetch()} />;
  const v = found.data;
  return (
    <>
      <Head title="Findings" sub={v.own ? "What audits found on your washes." : "What audits found before anything was put right."}>
        {chosen.length > 0 && v.findings > 0 && may("keep remedies") && (
          <LinkButton look="act" to={`/audits/remedies/new?${taken(chosen, weeks)}`}>
            Take it up
          </LinkButton>
        )}
        <LinkButton to="/audits/week">Week sheet</LinkButton>
        <LinkButton to="/audits/remedies">Remedies</LinkButton>
        <LinkButton to="/audits">Audits</LinkButton>
        <a
          download
          className="hit grid min-w-hit place-items-center px-2 text-tide underline underline-offset-4"
          href={`/api/findings/export?${new URLSearchParams({ ...query, weeks: String(weeks) }).toString()}`}
        >
          Table (CSV)
        </a>
      </Head>
      <div className="mb-4 flex flex-wrap items-end gap-3">
        <Choice
          label="Weeks back"
          value={String(weeks)}
          onChange={(w) => set("weeks", w)}
          options={["1", "4", "8", "26"].map((w) => ({ value: w, label: w }))}
        />
        {chosen.map((c) => (
          <button
            key={c.by}
            type="button"
            className="hit inline-flex items-center gap-1.5 rounded-full border-2 border-tide bg-tide-wash px-3 font-semibold"
            onClick={() => set(c.by, "")}
          >
            {labelOf(v, c.by, c.key)}
            <X size={16} aria-label="show all again" />
          </button>
        ))}
      </div>
      <div className="mb-4 flex flex-wrap gap-x-9 gap-y-2">
        <Figure value={`${v.with} of ${v.audits}`} label="audits had one" />
        <Figure value={String(v.findings)} label={v.findings === 1 ? "finding" : "findings"} />
        <Figure value={minutes(v.rework)} label="of rework" />
        {v.putRight > 0 && <Figure value={minutes(v.putRight)} label="to put right on the spot" />}
        {v.missed > 0 && <Figure value={`${v.missed} of ${v.passed}`} label="passed, and the customer complained in a week" />}
      </div>
      {v.says.length > 0 && (
        <ul className="mb-4 grid max-w-4xl gap-1 rounded-xl border-2 border-amber bg-amber-wash p-3">
          {v.says.map((s) => (
            <li key={s} className="font-semibold">
              {s}
            </li>
          ))}
        </ul>
      )}
      {v.findings === 0 ? (
        <Empty>Nothing of this was found in {plural(weeks, "week")}.</Empty>
      ) : (
        <>
          {v.few && <p className="mb-3 text-sm text-faded">Too few to say what is more than chance: from 30 findings on that is told.</p>}
          <div className="grid items-start gap-4 xl:grid-cols-2">
            {v.tallies
              .filter((t) => !chosen.some((c) => c.by === t.by) && t.rows.length > 0)
              .map((t) => (
                <Counted key={t.by} t={t} onPick={narrows.includes(t.by) ? (key) => set(t.by, key) : undefined} />
              ))}
          </div>
          <div className="mt-4">
            <Panel title="Week by week">
              <WeekChart query={query} />
            </Panel>
          </div>
          {!v.own &&
            (!chosen.some((c) => c.by === "kind") ||
              asked.get("kind")?.startsWith("fine") ||
              asked.get("kind")?.startsWith("straight")) && <Marks m={v.marks} />}
          <Newest v={v} />
        </>
      )}
      <OnTheWay rows={v.way} />
    </>
  );
}

/** A pattern as it is asked for: of a procedure it is taken up whatever its version. */
const taken = (chosen: { by: By; key: string }[], weeks: number) =>
  new URLSearchParams({
    weeks: String(weeks),
    ...Object.fromEntries(chosen.map((c) => [c.by, c.by === "procedure" ? c.key.replace(/@\d+$/, "") : c.key])),
  }).toString();

const labelOf = (v: View, by: By, key: string) => {
  const row = v.tallies.find((t) => t.by === by)?.rows.find((r) => r.key === key);
  return sentence(row?.label ?? key);
};

const shown = 8;

/** One tally: how many, in how many audits, and how sure that is. */
function Counted({ t, onPick }: { t: Tally; onPick: ((key: string) => void) | undefined }) {
  const most = Math.max(...t.rows.map((r) => r.findings));
  return (
    <Panel title={titles[t.by]} aside="in so many audits">
      <ul className="grid gap-1">
        {t.rows.slice(0, shown).map((r) => {
          const line = (
            <>
              <span className="flex items-baseline justify-between gap-2">
                <span>
                  {sentence(r.label)}
                  {r.says && " "}
                  {r.says && <Tag tone="amber">more than chance</Tag>}
                </span>
                <span className="num whitespace-nowrap">
                  <b>{r.findings}</b>
                  <span className="text-sm text-faded">{` · ${r.with} of ${r.of}, ${percent(r.low)} to ${percent(r.high)} %`}</span>
                </span>
              </span>
              <span className="block h-2 rounded-full bg-chalk">
                <span className="block h-full rounded-full bg-tide" style={{ width: `${(100 * r.findings) / most}%` }} />
              </span>
            </>
          );
          return (
            <li key={r.key}>
              {onPick ? (
                <button
                  type="button"
                  className="block min-h-hit w-full rounded-lg px-2 py-1 text-left hover:bg-chalk"
                  onClick={() => onPick(r.key)}
                >
                  {line}
                </button>
              ) : (
                <div className="px-2 py-1">{line}</div>
              )}
            </li>
          );
        })}
      </ul>
      {t.rows.length > shown && <p className="mt-1 text-sm text-faded">{`and ${t.rows.length - shown} more, with fewer`}</p>}
    </Panel>
  );
}

const percent = (share: number) => Math.round(100 * share);

/** Whether the scratch risk that plans work out says anything of marks that audits find. */
function Marks({ m }: { m: Schemas["RiskAndMarks"] }) {
  return (
    <Panel className="mt-4" title="Does planned scratch risk predict marks?">
      <p className="mb-2">{m.says}</p>
      <Table caption="Marks by planned risk" head={["Planned risk", "Audits with marks", "Share, likely range"]}>
        {m.bands.map((b) => (
          <tr key={b.from}>
            <th scope="row" className="num font-normal whitespace-nowrap">{`${b.from} to ${b.to}`}</th>
            <td className="num">{`${b.with} of ${b.of}`}</td>
            <td className="num">{`${percent(b.share)} %, ${percent(b.low)} to ${percent(b.high)} %`}</td>
          </tr>
        ))}
      </Table>
    </Panel>
  );
}

/** What looks on the way of the wash came to: each caught something while it could still be put right. */
function OnTheWay({ rows }: { rows: View["way"] }) {
  if (rows.length === 0) return null;
  return (
    <Panel className="mt-4" title="Caught on the way" aside="before the wash was finished">
      <Table caption="Looks on the way" head={["Look", "Found something", "Put right in"]}>
        {rows.map((r) => (
          <tr key={r.look}>
            <th scope="row" className="font-normal">
              {r.check && <span className="text-faded">{r.check}: </span>}
              {r.title}
            </th>
            <td className="num">
              {`${r.found} of ${r.made}`}
              <span className="text-sm text-faded">{` · ${percent(r.low)} to ${percent(r.high)} %`}</span>
            </td>
            <td className="num">
              {r.found > r.left ? seconds(r.took) : "–"}
              {r.left > 0 && <span className="block text-sm text-faded">{`${r.left} not put right`}</span>}
            </td>
          </tr>
        ))}
      </Table>
    </Panel>
  );
}

function Newest({ v }: { v: View }) {
  return (
    <div className="mt-4">
      <Panel title="The newest" aside={v.newest.length < v.findings ? `${v.newest.length} of ${v.findings}` : ""}>
        <Table stacks caption="The newest findings" head={["When", "Found", "Vehicle", "Washed by", "Likely cause"]}>
          {v.newest.map((f, i) => (
            <tr key={i} className="max-sm:grid max-sm:gap-0.5">
              <td className="whitespace-nowrap">{day(f.at)}</td>
              <th scope="row" className="font-normal">
                <Link className="hit flex min-w-hit items-center text-tide underline underline-offset-4" to={`/audits/${f.auditId}`}>
                  {`${sentence(f.finding.kind)}, ${f.finding.severity}`}
                </Link>
              </th>
              <td>
                {f.label} <span className="num text-faded">{f.plate}</span>
              </td>
              <td>{f.washer}</td>
              <td className="text-faded">{sentence(f.finding.cause)}</td>
            </tr>
          ))}
        </Table>
      </Panel>
    </div>
  );
}
