import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { ask, client } from "../api/client";
import { useMe } from "../api/shop";
import { day, seconds } from "../kit/format";
import { Button, Choice, Head, LinkButton, Loading, Trouble } from "../kit/kit";
import { doseWords, handsOn, particulars, type Procedure } from "./words";
import { keys } from "../api/keys";

/** For the wall and the clipboard: the whole procedure on A4 or Letter, and one page for the bay. */
export function Print() {
  const { id = "" } = useParams();
  const [paper, setPaper] = useState<"A4" | "letter">("A4");
  const view = useQuery({
    queryKey: keys.procedure(id),
    queryFn: () => ask(client.GET("/procedures/{id}", { params: { path: { id } } })),
  });
  const me = useMe().data;
  if (view.isPending) return <Loading what="the procedure" />;
  if (!view.data?.published) return <Trouble error={view.error} retry={() => void view.refetch()} />;
  const p = view.data.published;
  const newest = view.data.versions[0];
  const foot = `${me?.shopName ?? ""} · ${p.title}, version ${newest?.version}, ${newest ? day(newest.publishedAt) : ""} · Local codes, labels and safety data sheets come first.`;
  return (
    <>
      <style>{`@page { size: ${paper}; margin: 12mm } @media print { body { background: white } .sheet { border: 0 !important; padding: 0 !important; background: white !important } }`}</style>
      <div className="no-print">
        <Head title={`Print: ${p.title}`} sub="The procedure sheet, and one page for the bay with a code that opens it on a phone.">
          <Choice
            label="Paper"
            value={paper}
            onChange={setPaper}
            options={[
              { value: "A4", label: "A4" },
              { value: "letter", label: "Letter" },
            ]}
          />
          <LinkButton to={`/procedures/${id}`}>Back</LinkButton>
          <Button look="act" onClick={() => window.print()}>
            Print
          </Button>
        </Head>
      </div>
      <BayCard p={p} id={id} foot={foot} />
      <WholeSheet p={p} when={view.data.when} entry={view.data.entry} foot={foot} />
    </>
  );
}

const sheet = "sheet mx-auto mb-6 max-w-[52rem] rounded-2xl border border-line bg-paper p-8";

/** What a washer must see from a step away: order, doses, dwell. Conditions are marked, not spelled out. */
function BayCard({ p, id, foot }: { p: Procedure; id: string; foot: string }) {
  const steps = p.stages.flatMap((s) => s.steps).filter((s) => s.technique !== "inspect");
  return (
    <article className={`${sheet} break-after-page`} aria-label="Bay card">
      <header className="flex items-start justify-between gap-6">
        <div>
          <h1>{p.title}</h1>
          <p>{p.fits}</p>
        </div>
        <img src={`/api/procedures/${id}/code`} alt={`Code that opens ${p.title}`} className="h-28 w-28 shrink-0" />
      </header>
      <ol className="mt-3 columns-2 gap-8 text-[0.92rem] leading-snug">
        {steps.map((s, i) => (
          <li key={s.id} className="mb-1.5 break-inside-avoid">
            <b>
              <span className="num">{i + 1}</span> {s.title}
              {Object.keys(s.when).length > 0 && <span className="font-normal"> (if)</span>}
            </b>
            {s.dose && <span className="block">{doseWords(s.dose)}</span>}
            {s.dwell && (
              <span className="block">
                works {seconds(s.dwell.min)} to {seconds(s.dwell.max)}
                {s.dwell.each ? " on each" : ""}
              </span>
            )}
          </li>
        ))}
      </ol>
      <footer className="mt-3 border-t border-line pt-1 text-xs">{foot}</footer>
    </article>
  );
}

function WholeSheet({ p, when, entry, foot }: { p: Procedure; when: Record<string, string>; entry: string[]; foot: string }) {
  return (
    <article className={sheet} aria-label="Procedure sheet">
      <h1>{p.title}</h1>
      <p>{p.fits}</p>
      <ul className="mt-2 list-disc pl-5 text-sm">
        {entry.map((e, i) => (
          <li key={e}>
            Only where {e}. {p.entry[i]?.refusal}
          </li>
        ))}
      </ul>
      {p.stages
        .filter((s) => s.steps.length > 0)
        .map((stage) => (
          <section key={stage.id} className="mt-3">
            <h2 className="border-b border-line">{stage.title}</h2>
            {stage.steps.map((s) => (
              <div key={s.id} className="break-inside-avoid py-1.5">
                <p>
                  <span className="mr-1.5 inline-block h-3.5 w-3.5 border-2 border-ink align-[-1px]" aria-hidden /> <b>{s.title}.</b>{" "}
                  {s.text}
                </p>
                {when[s.id] && <p className="pl-6 text-sm">If {when[s.id]}.</p>}
                <p className="pl-6 text-sm">
                  {s.reason} {particulars(s) || handsOn(s.time)}
                  {s.lookFor && `. Done when: ${s.lookFor}`}
                </p>
                {(s.cautions ?? []).map((c) => (
                  <p key={c} className="pl-6 text-sm font-semibold">
                    ! {c}
                  </p>
                ))}
              </div>
            ))}
          </section>
        ))}
      <footer className="mt-3 border-t border-line pt-1 text-xs">{foot}</footer>
    </article>
  );
}
