import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { minutes, plural, seconds } from "../kit/format";
import { Head, Loading, Panel, Tag, Trouble } from "../kit/kit";

export function Procedures() {
  const procedures = useQuery({ queryKey: ["procedures"], queryFn: () => ask(client.GET("/procedures")), staleTime: 60_000 });
  const [open, setOpen] = useState("");
  if (procedures.isPending) return <Loading what="the procedures" />;
  if (!procedures.data) return <Trouble error={procedures.error} retry={() => void procedures.refetch()} />;
  const view = procedures.data.find((v) => v.procedure.id === open) ?? procedures.data[0];
  return (
    <>
      <Head title="Procedures" sub="The shop's published ways to wash. A step's condition decides when it is in the plan." />
      <div className="grid gap-4 lg:grid-cols-[19rem_1fr]">
        <ul className="grid content-start gap-2">
          {procedures.data.map((v) => (
            <li key={v.procedure.id}>
              <button
                type="button"
                aria-pressed={v === view}
                onClick={() => setOpen(v.procedure.id)}
                className={`w-full rounded-xl border-2 p-3 text-left ${v === view ? "border-tide bg-tide-wash" : "border-line bg-paper hover:border-ink"}`}
              >
                <b>{v.procedure.title}</b>
                <span className="block text-sm text-faded">
                  {v.procedure.family}, version {v.procedure.version},{" "}
                  {plural(
                    v.procedure.stages.reduce((n, s) => n + s.steps.length, 0),
                    "step",
                  )}
                  , {plural(Object.keys(v.when).length, "condition")}
                </span>
                <span className="mt-1 block text-sm">{v.procedure.fits}</span>
              </button>
            </li>
          ))}
        </ul>
        {view && <Sheet view={view} />}
      </div>
    </>
  );
}

function Sheet({ view }: { view: Schemas["ProcedureView"] }) {
  return (
    <Panel title={view.procedure.title}>
      <h3 className="font-semibold">Only where</h3>
      <ul className="mb-3 list-disc pl-5">
        {view.procedure.entry.map((e, i) => (
          <li key={e.refusal}>
            {view.entry[i]}. <span className="text-faded">Else: {e.refusal}</span>
          </li>
        ))}
      </ul>
      {view.procedure.stages.map((stage) => (
        <section key={stage.id} className="border-t border-line py-2">
          <h3 className="mb-1 font-bold">{stage.title}</h3>
          <ol className="grid gap-2">
            {stage.steps.map((s) => (
              <li key={s.id} className="grid gap-x-4 md:grid-cols-[14rem_1fr]">
                <div>
                  <b>{s.title}</b>
                  {view.when[s.id] && (
                    <p className="mt-0.5">
                      <Tag tone="tide">if</Tag> <span className="text-sm">{view.when[s.id]}</span>
                    </p>
                  )}
                </div>
                <div>
                  <p>{s.text}</p>
                  <p className="text-sm text-faded">
                    {[
                      s.reason,
                      s.dwell && `Works ${seconds(s.dwell.min)} to ${seconds(s.dwell.max)}.`,
                      handsOn(s.time),
                      s.skill && `Skill: ${s.skill}.`,
                    ]
                      .filter(Boolean)
                      .join(" ")}
                  </p>
                </div>
              </li>
            ))}
          </ol>
        </section>
      ))}
    </Panel>
  );
}

function handsOn(t: Schemas["Time"]) {
  const parts = [
    t.fixed && `${minutes(t.fixed)} fixed`,
    t.body && `${minutes(t.body)} on a mid-size car`,
    t.perWheel && `${minutes(t.perWheel)} a wheel`,
  ].filter(Boolean);
  return `${parts.join(" and ")}${t.soiled ? ", more with soil" : ""}.`;
}
