import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { useMay } from "../api/shop";
import { day, hour, minutes, plural } from "../kit/format";
import { Button, Empty, Loading, Panel, Table, Tag, Trouble } from "../kit/kit";
import { csv, Csv } from "./Csv";
import { say } from "../kit/notice";
import { keys } from "../api/keys";

type Proposal = Schemas["StandardProposal"];
type Standard = Schemas["Standard"];
/** A standard put in the place of another; what undoes one is not offered to be undone again. */
type Change = { standard: Standard; was: Standard; why: string; undoes?: boolean };

/** What the taps say of each step's time, beside the standard in use; the lead accepts, and plans and promises follow. */
export function Standards({ days }: { days: number }) {
  const may = useMay();
  const view = useQuery({
    queryKey: keys.times("standards", days),
    queryFn: () => ask(client.GET("/times/standards", { params: { query: { days } } })),
    placeholderData: (was) => was,
  });
  const [open, setOpen] = useState<string>();
  if (view.isPending) return <Loading what="the standard times" />;
  if (!view.data) return <Trouble error={view.error} retry={() => void view.refetch()} />;
  const { proposals, ratings, history, allowances, measured, rule } = view.data;
  if (proposals.length === 0) return <Empty>No step was timed in these days.</Empty>;
  const differ = proposals.filter((p) => p.different);
  const hold = proposals.filter((p) => !p.different);
  const rows = (caption: string, of: Proposal[]) => (
    <Table stacks caption={caption} head={["Step", "Timings", "In use", "Observed", "Rating", "Standard by the taps", "", ""]}>
      {of.map((p) => (
        <Row
          key={p.step}
          p={p}
          allowances={allowances}
          lead={may("set standards")}
          open={open === p.step}
          toggle={() => setOpen(open === p.step ? undefined : p.step)}
        />
      ))}
    </Table>
  );
  return (
    <div className="grid gap-4">
      <Panel
        title={
          differ.length
            ? `${plural(differ.length, "step takes", "steps take")} another time than the standard in use`
            : "No standard needs changing"
        }
        aside={<Csv href={csv("standards", days)} />}
      >
        {differ.length > 0 && rows("Standards that differ", differ)}
        {hold.length > 0 && (
          <details className="mt-3" open={differ.length === 0}>
            <summary className="font-semibold text-tide">{plural(hold.length, "step", "steps")}: nothing to change yet</summary>
            {rows("Standards that hold", hold)}
          </details>
        )}
        <details className="mt-3">
          <summary className="font-semibold text-tide">Where these numbers come from</summary>
          <p className="mt-1 max-w-3xl">
            Standard = observed × rating ÷ 100 × (1 + {allowances} % allowances), over practised people&apos;s timings. The rating is what a
            step takes the shop&apos;s typical practised person over what it takes this one. Timings needed for ±5 % at 95 % by the
            International Labour Office&apos;s formula; the interval by Student&apos;s t; few timings are drawn towards the written time. An
            outlier is {rule}; it is kept, marked in the table of steps, and left out here. Trainees&apos; timings are on Learning.
            {measured
              ? "The allowances are the pauses that were tapped; a shop can set its own in Settings."
              : "The allowances are set in Settings."}{" "}
            Differences under 5 % are ignored.
          </p>
          <p className="mt-1">
            Ratings: {ratings.map((r) => `${r.person.name} ${r.rating}`).join(", ") || "nobody has enough timings yet"}.
          </p>
        </details>
      </Panel>
      <Panel title="Changed before">
        {history.length === 0 ? (
          <p className="text-faded">No standard was changed yet: plans go by what the procedures say.</p>
        ) : (
          <ul className="grid gap-1">
            {history.map((h) => (
              <li key={h.at + h.standard.step}>
                <b>{proposals.find((p) => p.step === h.standard.step)?.title ?? h.standard.step}</b>: {h.words}. {h.by}, {day(h.at)}{" "}
                <span className="num">{hour(h.at)}</span>
                {h.why && `: ${h.why}`}
              </li>
            ))}
          </ul>
        )}
      </Panel>
    </div>
  );
}

/** An interval, to a tenth of a minute, or in seconds where it is short. */
const between = (low: number, high: number) =>
  high < 1 ? `${Math.round(low * 60)} to ${Math.round(high * 60)} s` : `${low.toFixed(1)} to ${high.toFixed(1)} min`;

function Row({ p, allowances, lead, open, toggle }: { p: Proposal; allowances: number; lead: boolean; open: boolean; toggle: () => void }) {
  const off = p.inUse > 0 ? Math.round((p.standard / p.inUse - 1) * 100) : 0;
  return (
    <>
      <tr className={p.different ? "bg-amber-wash/50" : ""}>
        <th scope="row">
          {p.title}
          <span className="block text-sm font-normal text-faded">{p.stage}</span>
        </th>
        <td data-head="Timings" className="whitespace-nowrap">
          <span className="num">{p.n}</span>
          <span className="block text-sm text-faded">{p.n >= p.needed ? "enough" : `of ${p.needed} needed`}</span>
        </td>
        <td data-head="In use" className="num whitespace-nowrap">
          {minutes(p.inUse)}
        </td>
        <td data-head="Observed" className="num whitespace-nowrap">
          {minutes(p.observed)}
        </td>
        <td data-head="Rating" className="num">
          {Math.round(p.rating)}
        </td>
        <td data-head="Standard by the taps" className="num whitespace-nowrap">
          {minutes(p.standard)}{" "}
          {off !== 0 && (
            <span className="text-sm">
              ({off > 0 ? "+" : "−"}
              {Math.abs(off)} %)
            </span>
          )}
          <span className="block text-sm text-faded">{between(p.low, p.high)}</span>
        </td>
        <td className="min-w-40">
          <Interval p={p} />
        </td>
        <td className="sm:text-right">
          {p.n === 0 ? null : (
            <Button
              onClick={toggle}
              aria-expanded={open}
              look={p.different && lead ? "act" : "plain"}
              className="min-h-hit whitespace-nowrap"
            >
              {open ? "Close" : `Look at ${minutes(p.standard)}`}
            </Button>
          )}
        </td>
      </tr>
      {open && (
        <tr>
          <td colSpan={8}>
            <Explain p={p} allowances={allowances} lead={lead} close={toggle} />
          </td>
        </tr>
      )}
    </>
  );
}

/** The interval of the mean, the proposal as a dot, the standard in use as the upright. */
function Interval({ p }: { p: Proposal }) {
  const top = Math.max(p.high, p.inUse, p.standard) * 1.15 || 1;
  const x = (m: number) => (m / top) * 150;
  return (
    <svg
      viewBox="0 0 154 18"
      className="w-full"
      role="img"
      aria-label={`${minutes(p.standard)}, between ${minutes(p.low)} and ${minutes(p.high)}; in use ${minutes(p.inUse)}`}
    >
      <path d="M0 9H150" stroke="var(--line)" />
      <rect x={x(p.low)} y="5" width={Math.max(2, x(p.high) - x(p.low))} height="8" rx="2" fill="var(--ink)" opacity="0.4" />
      <circle cx={x(p.standard)} cy="9" r="5" fill={p.different ? "var(--rust)" : "var(--ink)"} />
      <path d={`M${x(p.inUse)} 0V18`} stroke="var(--tide)" strokeWidth="3" />
    </svg>
  );
}

function Explain({ p, allowances, lead, close }: { p: Proposal; allowances: number; lead: boolean; close: () => void }) {
  const queries = useQueryClient();
  const [why, setWhy] = useState("");
  const accept = useMutation({
    mutationFn: ({ standard, was, why }: Change) => ask(client.POST("/times/standards", { body: { standard, was, why } })),
    onSuccess: (line, { standard, was, undoes }) => {
      void queries.invalidateQueries();
      if (!undoes) close();
      const back = { standard: was, was: standard, why: "Taken back", undoes: true };
      say(`${p.title}: ${line.words}.`, undoes ? undefined : () => accept.mutate(back));
    },
    onError: () => void queries.invalidateQueries({ queryKey: keys.times() }),
  });
  const aside = [
    p.outliers > 0 && `${plural(p.outliers, "outlier")} set apart`,
    p.learning > 0 && `${plural(p.learning, "timing")} of trainees left out`,
  ].filter(Boolean);
  return (
    <div className="grid gap-2 py-1 pl-3">
      <p>
        <span className="num">{p.observed.toFixed(2)}</span> observed × <span className="num">{Math.round(p.rating)}</span> ÷ 100 ={" "}
        <span className="num">{p.normal.toFixed(2)}</span> normal, + {allowances} %{" "}
        {p.weight < 0.95 && (
          <>
            , drawn towards the written <span className="num">{p.written.toFixed(2)}</span> as {plural(p.n, "timing")} weigh{" "}
            {Math.round(p.weight * 100)} %
          </>
        )}{" "}
        = <b className="num">{minutes(p.standard)}</b> on average.
        {aside.length > 0 && ` ${aside.join(", ")}.`}
      </p>
      {p.fit && (
        <p>
          By area and grade: {p.fit.fixed.toFixed(1)} min to begin with, {p.fit.perM2.toFixed(2)} min for each m²,{" "}
          {p.fit.perGrade.toFixed(1)} min for each grade of soil. It explains {Math.round(p.fit.r2 * 100)} % of what differs between{" "}
          <span className="num">{p.fit.n}</span> timings.
        </p>
      )}
      {p.far.length > 0 && (
        <p className="text-sm">
          Set apart:{" "}
          {p.far.map((f, i) => (
            <span key={f.wash}>
              {i > 0 && ", "}
              <Link to={`/bay/${f.wash}`} className="underline underline-offset-4">
                {f.label}
              </Link>{" "}
              {day(f.at)} <span className="num">{minutes(f.minutes)}</span> on <span className="num">{minutes(f.written)}</span>
            </span>
          ))}
          .
        </p>
      )}
      <p>
        Now: {p.uses}. Proposed: <b>{p.words}</b>.
      </p>
      {lead && (
        <div className="flex flex-wrap items-end gap-2">
          <label className="grow">
            <span className="mb-1 block text-sm font-semibold">Why (kept with the standard)</span>
            <input
              className="min-h-hit w-full rounded-xl border-2 border-line bg-paper px-3"
              value={why}
              maxLength={400}
              onChange={(e) => setWhy(e.target.value)}
            />
          </label>
          <Button look="act" disabled={accept.isPending} onClick={() => accept.mutate({ standard: p.propose, was: p.current, why })}>
            Use {minutes(p.standard)}: plans follow
          </Button>
          {p.current.form !== "written" && (
            <Button
              disabled={accept.isPending}
              onClick={() => accept.mutate({ standard: { step: p.step, form: "written" }, was: p.current, why })}
            >
              Back to the written time
            </Button>
          )}
        </div>
      )}
      {accept.error && <Trouble error={accept.error} />}
      {!p.different && <Tag>Too few timings, or a difference that may be chance</Tag>}
    </div>
  );
}
