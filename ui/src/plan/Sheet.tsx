import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { keys } from "../api/keys";
import { useMe } from "../api/shop";
import { hour, minutes, useQuantities } from "../kit/format";
import { Button, Head, LinkButton, Loading, Trouble } from "../kit/kit";

type View = Schemas["PlanView"];
type Line = Schemas["TimelineView"];
type FilledStep = Schemas["FilledStep"];

/** The plan for the clipboard: one line a step with its time, who does it, what is mixed and how long it works. */
export function Sheet() {
  const { id = "" } = useParams();
  const plan = useQuery({
    queryKey: keys.plan(id, ""),
    queryFn: () => ask(client.GET("/bookings/{id}/plan", { params: { path: { id } } })),
  });
  const view = plan.data;
  const choice = view?.choices.find((c) => c.plan);
  const arranged: Schemas["Arranged"] = { ...view?.booking.arranged, ...(choice && { procedure: choice.procedure }) };
  const line = useQuery({
    queryKey: keys.timeline(id, arranged, view?.version),
    queryFn: () => ask(client.POST("/bookings/{id}/timeline", { params: { path: { id } }, body: arranged })),
    enabled: choice !== undefined,
  });
  if (plan.error || line.error) return <Trouble error={plan.error ?? line.error} />;
  if (view && !choice) return <Trouble error={new Error("No procedure may be used here.")} />;
  if (!view || !choice?.plan || !line.data) return <Loading what="the sheet" />;
  return (
    <>
      <style>{`@page { size: A4; margin: 12mm } @media print { body { background: white } .sheet { border: 0 !important; padding: 0 !important } }`}</style>
      <div className="no-print">
        <Head title={`Print: ${view.booking.label}`} sub="One line a step: time, who, mix, dwell.">
          <LinkButton to={`/plan/${id}`}>Back</LinkButton>
          <Button look="act" onClick={() => window.print()}>
            Print
          </Button>
        </Head>
      </div>
      <Paper view={view} plan={choice.plan} line={line.data} />
    </>
  );
}

/** The steps in the order in which they begin; one in several pieces begins with its first. */
function rows(plan: Schemas["Plan"], line: Line) {
  const begun = new Map<string, Line["timeline"]["slots"][number]>();
  for (const s of line.timeline.slots) {
    const was = s.step ? begun.get(s.step) : undefined;
    if (s.step && (!was || s.start < was.start)) begun.set(s.step, s);
  }
  return plan.steps
    .flatMap((step) => {
      const slot = begun.get(step.id);
      return slot ? [{ step, slot }] : [];
    })
    .sort((a, b) => a.slot.start - b.slot.start);
}

function Paper({ view, plan, line }: { view: View; plan: Schemas["Plan"]; line: Line }) {
  const me = useMe().data;
  const cautions = [...new Set(plan.steps.flatMap((s) => s.cautions ?? []))]; // each said once, by its number at the steps
  const at = (s: number) => hour(new Date(Date.parse(line.zero) + s * 1000));
  const name = (who: string | undefined) => (who ? (line.timeline.names?.[who] ?? who) : "by itself");
  return (
    <article className="sheet mx-auto max-w-[52rem] rounded-2xl border border-line bg-paper p-6 max-sm:p-3" aria-label="Plan sheet">
      <h2 className="text-xl">
        {view.booking.label} <span className="num font-normal">{view.booking.plate}</span>
      </h2>
      <p>
        {plan.title}, version {plan.version} · {view.booking.place.name} · promised {hour(view.booking.promisedAt)}
        {line.promise && ` · likely finish ${at(line.promise.p50)}, safe promise ${at(line.promise.p80)}`}
      </p>
      {plan.outScope.length > 0 && <p className="font-semibold">{plan.scope}</p>}
      <table className="stacks mt-3 w-full border-collapse text-left text-sm">
        <caption className="sr-only">Steps by the clock</caption>
        <thead>
          <tr className="border-b-2 border-ink">
            {["Time", "Who", "Step", "Mix", "Works"].map((h) => (
              <th key={h} scope="col" className="py-1 pr-3">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows(plan, line).map(({ step, slot }) => (
            <tr key={step.id} className="break-inside-avoid border-b border-line align-top [&>*]:py-1 [&>*]:pr-3">
              <td data-head="Time" className="num whitespace-nowrap">
                {at(slot.start)}
              </td>
              <td data-head="Who">{name(slot.who)}</td>
              <th scope="row">
                {step.title} <span className="num font-normal text-faded">{minutes(step.minutes)}</span>
                {(step.cautions ?? []).length > 0 && (
                  <span className="block font-normal">Cautions {step.cautions?.map((c) => cautions.indexOf(c) + 1).join(", ")}</span>
                )}
              </th>
              <td data-head="Mix">
                <Mixed step={step} />
              </td>
              <td data-head="Works">{works(step)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {cautions.length > 0 && (
        <>
          <h3 className="mt-3 font-bold">Cautions</h3>
          <ol className="list-decimal pl-6 text-sm">
            {cautions.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ol>
        </>
      )}
      <footer className="mt-3 text-xs">
        {me?.shopName} · made {hour(view.made)} · Labels, safety data sheets and local codes come first.
      </footer>
    </article>
  );
}

function Mixed({ step: { mix, product } }: { step: FilledStep }) {
  const q = useQuantities();
  if (!mix) return product ?? "–";
  return (
    <>
      <span className="num">{q.volume(mix.ml)}</span> {mix.product} + <span className="num">{q.volume(mix.water)}</span> water, {mix.vessel}
    </>
  );
}

const works = ({ dwell }: FilledStep) =>
  dwell ? `${dwell.from < dwell.to ? `${minutes(dwell.from / 60)} to ` : ""}${minutes(dwell.to / 60)}${dwell.each ? " on each" : ""}` : "–";
