import { ArrowDown, ArrowUp } from "lucide-react";
import type { Schemas } from "../api/client";
import { useWords } from "../api/shop";
import { sentence } from "../kit/format";
import { Button, Field, inputLook, Select } from "../kit/kit";
import { Condition } from "../kit/Condition";
import { freeRound, type Procedure, type Round, stepsOf } from "./words";

type Over = Schemas["OverName"];

/** Runs of steps that are done for one part of the car before the next. Steps join one in their own form. */
export function Rounds({ doc, set }: { doc: Procedure; set: (next: Partial<Procedure>) => void }) {
  const lists = useWords().data?.lists;
  if (!lists) return null;
  const rounds = doc.rounds ?? [];
  const change = (id: string, next: Partial<Round>) => set({ rounds: rounds.map((r) => (r.id === id ? { ...r, ...next } : r)) });
  const add = () =>
    set({ rounds: [...rounds, { id: freeRound(doc), title: "Side by side", over: "sides", order: "the route", when: {} }] });
  /** With a round go its steps' ties to it: they are done once, for the whole car. */
  const remove = (id: string) =>
    set({
      rounds: rounds.filter((r) => r.id !== id),
      stages: doc.stages.map((s) => ({ ...s, steps: s.steps.map((x) => (x.round === id ? { ...x, round: "", once: "" } : x)) })),
    });
  return (
    <fieldset className="grid gap-3">
      <legend className="mb-1 font-bold">Rounds: finish one part of the car before the next</legend>
      {rounds.map((r) => (
        <div key={r.id} className="grid gap-2 rounded-xl border border-line p-2.5">
          <div className="grid gap-3 md:grid-cols-[1fr_8rem_11rem]">
            <Field label="What is gone round">
              <input className={inputLook} value={r.title} maxLength={80} onChange={(e) => change(r.id, { title: e.target.value })} />
            </Field>
            <Field label="Over" hint={r.over === "sections" ? "Uskel sizes them: as large as nothing dries here and now." : undefined}>
              <Select
                value={r.over}
                onChange={(over) => change(r.id, { over, order: r.order === "as given" ? "the route" : r.order, given: [] })}
                options={lists.overs.map((o) => ({ value: o.over, label: sentence(o.over) }))}
              />
            </Field>
            <Field label="Order">
              <Select
                value={r.order}
                onChange={(order) => change(r.id, { order, given: order === "as given" ? partsOf(lists.overs, r) : [] })}
                options={(lists.orders as Round["order"][])
                  .filter((o) => o !== "as given" || partsOf(lists.overs, r).length > 0)
                  .map((o) => ({ value: o, label: sentence(o) }))}
              />
            </Field>
          </div>
          {r.order === "as given" && <Given parts={r.given ?? []} onChange={(given) => change(r.id, { given })} />}
          <Condition label="Part by part, else for the whole car" rule={r.when} onChange={(when) => change(r.id, { when })} />
          <p className="text-sm text-faded">
            {stepsOf(doc)
              .filter((s) => s.round === r.id)
              .map((s) => s.title)
              .join(" › ") || "No step belongs to it yet: pick it in a step’s own form."}
          </p>
          <Button className="min-h-hit justify-self-start" onClick={() => remove(r.id)}>
            Take out
          </Button>
        </div>
      ))}
      <Button className="justify-self-start" onClick={add}>
        Add a round
      </Button>
    </fieldset>
  );
}

const partsOf = (overs: Over[], r: Round) => overs.find((o) => o.over === r.over)?.parts ?? [];

const corners: Record<string, string> = { fl: "front left", fr: "front right", rl: "rear left", rr: "rear right" };

/** The parts one after the other, to be put in order by button. */
function Given({ parts, onChange }: { parts: string[]; onChange: (parts: string[]) => void }) {
  const swap = (i: number) => onChange([...parts.slice(0, i), parts[i + 1] ?? "", parts[i] ?? "", ...parts.slice(i + 2)]);
  return (
    <ol className="flex flex-wrap gap-2" aria-label="Order of the parts">
      {parts.map((part, i) => (
        <li key={part} className="flex items-center gap-1 rounded-lg border border-line pl-2">
          {corners[part] ?? part}
          <Button
            look="quiet"
            className="min-h-hit px-1!"
            disabled={i === 0}
            onClick={() => swap(i - 1)}
            aria-label={`${corners[part] ?? part} earlier`}
          >
            <ArrowUp size={16} aria-hidden />
          </Button>
          <Button
            look="quiet"
            className="min-h-hit px-1!"
            disabled={i === parts.length - 1}
            onClick={() => swap(i)}
            aria-label={`${corners[part] ?? part} later`}
          >
            <ArrowDown size={16} aria-hidden />
          </Button>
        </li>
      ))}
    </ol>
  );
}
