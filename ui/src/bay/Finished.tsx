import { useQueryClient } from "@tanstack/react-query";
import { Undo2 } from "lucide-react";
import { ask, client } from "../api/client";
import { useMay, useMe } from "../api/shop";
import { Entry, NumberField, PickField, TextField, useEntry } from "../kit/form";
import { hour, minutes, money, plural } from "../kit/format";
import { Button, LinkButton, Table } from "../kit/kit";
import type { State, Tapping, WashView } from "./useWash";
import { keys } from "../api/keys";

interface Props {
  view: WashView;
  state: State;
  tap: Tapping;
  undoes: string | undefined;
}

/** A finished wash: its times against the plan. Until it is closed whoever washed takes a tap back; then the lead corrects it. */
export function Finished({ view, state, tap, undoes }: Props) {
  const me = useMe().data;
  const planned = view.stages.reduce((sum, s) => sum + s.planned, 0);
  const actual = view.stages.reduce((sum, s) => sum + s.actual, 0);
  const missed = state.dwelling.filter((d) => d.verdict !== "kept");
  const title = (id: string) => view.steps.find((s) => s.id === id)?.title ?? id;
  return (
    <div className="grid gap-4">
      <h1>Washed. {hour(state.finished ?? "")}</h1>
      <p className="text-lg">
        <b className="num">{minutes(actual)}</b> hands on, against <b className="num">{minutes(planned)}</b> planned.
        {missed.length === 0
          ? " Every dwell was kept."
          : ` ${plural(missed.length, "dwell")} not kept: ${missed.map((d) => `${title(d.step)} ${d.verdict}`).join(", ")}.`}
      </p>
      {view.spent && (
        <p>
          Products and laundering came to <b className="num">{money(view.spent.tapped, me?.currency ?? "")}</b>, planned{" "}
          <span className="num">{money(view.spent.planned, "")}</span>.
        </p>
      )}
      <Table caption="Stage times against plan" head={["Stage", "Plan", "Was", ""]}>
        {view.stages.map((s) => (
          <tr key={s.stage}>
            <th scope="row">{s.stage}</th>
            <td className="num">{minutes(s.planned)}</td>
            <td className="num">{minutes(s.actual)}</td>
            <td className={`num text-right ${s.actual > s.planned * 1.15 ? "font-semibold text-rust" : "text-faded"}`}>
              {s.actual >= s.planned ? "+" : "−"}
              {minutes(Math.abs(s.actual - s.planned))}
            </td>
          </tr>
        ))}
      </Table>
      <Seen state={state} />
      <Beside view={view} title={title} />
      <p className="text-faded">
        {view.closed
          ? "This wash is closed: its times stay as tapped. The lead can correct one and say why."
          : "Someone else audits it: whoever washed it does not."}
      </p>
      <div className="grid grid-cols-2 gap-2">
        <LinkButton to="/" className="min-h-[60px]">
          Yard
        </LinkButton>
        <LinkButton to="/audits" look="act" className="min-h-[60px]">
          Audits
        </LinkButton>
      </div>
      {view.mayTap && !view.closed && (
        <Button className="min-h-[64px]" disabled={!undoes} onClick={() => undoes && void tap({ kind: "undo", undoes })}>
          <Undo2 size={22} aria-hidden /> Undo
        </Button>
      )}
      {view.closed && <Correct view={view} state={state} />}
    </div>
  );
}

/** What was noted and found in the bay. */
function Seen({ state }: { state: State }) {
  if (state.notes.length === 0 && state.found.length === 0) return null;
  return (
    <ul className="list-disc pl-5">
      {state.notes.map((n) => (
        <li key={n.at}>{n.text}</li>
      ))}
      {state.found.map((f) => (
        <li key={f.at}>
          {f.matter} on {f.zone}: {f.remedy === "take off" ? "taken off" : f.remedy === "ask" ? "the lead was asked" : "left, noted"}
        </li>
      ))}
    </ul>
  );
}

/** What stands beside the log: taps that came too late, and the lead's corrections. */
function Beside({ view, title }: { view: WashView; title: (id: string) => string }) {
  const late = view.events.filter((e) => e.late).length;
  if (late === 0 && view.corrected.length === 0) return null;
  return (
    <ul className="grid gap-1 rounded-xl border border-line p-3" aria-label="After it was closed">
      {late > 0 && <li>{plural(late, "tap")} arrived after closing: saved, but not counted.</li>}
      {view.corrected.map((c) => (
        <li key={c.at}>
          {title(c.step)}: <b className="num">{minutes(c.minutes)}</b> instead of <span className="num">{minutes(c.was)}</span>. {c.why}{" "}
          <span className="text-faded">
            {c.by}, {hour(c.at)}
          </span>
        </li>
      ))}
    </ul>
  );
}

/** The lead corrects the time of a step of a closed wash. */
function Correct({ view, state }: { view: WashView; state: State }) {
  const queries = useQueryClient();
  const lead = useMay()("correct");
  const done = view.steps.filter((s, i) => state.steps[i]?.status === "done" && !s.rework);
  const of = useEntry({
    start: { step: done[0]?.id ?? "", minutes: undefined as number | undefined, why: "" },
    save: ({ step, minutes = 0, why }) =>
      ask(client.POST("/washes/{id}/corrections", { params: { path: { id: view.id } }, body: { step, minutes, why: why.trim() } })),
    said: "Correction saved.",
    onSaved: (next, clear) => {
      queries.setQueryData(keys.wash(view.id), next);
      void queries.invalidateQueries({ queryKey: keys.times() });
      clear();
    },
  });
  if (!lead || done.length === 0) return null;
  const { form } = of;
  const tapped = (id: string) => minutes((state.steps.find((x) => x.id === id)?.handsOn ?? 0) / 60);
  return (
    <Entry of={of} act="Save the correction" label="Correct a time" className="grid gap-2 rounded-xl border-2 border-line p-3">
      <p className="text-lg font-semibold">Correct a time</p>
      <PickField
        form={form}
        name="step"
        label="Step"
        options={done.map((s) => ({ value: s.id, label: `${s.title}, tapped ${tapped(s.id)}` }))}
      />
      <NumberField form={form} name="minutes" label="Real hands-on minutes" min={0} max={600} step={0.5} />
      <TextField
        form={form}
        name="why"
        label="Why"
        maxLength={400}
        rules={{ validate: (why) => String(why).trim().length >= 3 || "say it in a few words" }}
      />
    </Entry>
  );
}
