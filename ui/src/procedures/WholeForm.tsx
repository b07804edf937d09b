import { Button, Field, inputLook, Tick } from "../kit/kit";
import { Pins } from "../kit/Pins";
import { Condition } from "../kit/Condition";
import { Rounds } from "./Rounds";
import type { Procedure } from "./words";

/** What belongs to the procedure as a whole: what it is for, where it may be used, how it settles what the trade disagrees on. */
export function WholeForm({ doc, change }: { doc: Procedure; change: (make: (p: Procedure) => Procedure) => void }) {
  const set = (next: Partial<Procedure>) => change((p) => ({ ...p, ...next }));
  return (
    <div className="grid gap-4">
      <div className="grid gap-3 md:grid-cols-[1fr_7rem]">
        <Field label="Title">
          <input className={inputLook} value={doc.title} maxLength={120} onChange={(e) => set({ title: e.target.value })} />
        </Field>
        <Field label="Family">
          <input className={inputLook} value={doc.family} maxLength={20} onChange={(e) => set({ family: e.target.value })} />
        </Field>
      </div>
      <Field label="What it is for">
        <textarea
          className={`${inputLook} py-2`}
          rows={2}
          value={doc.fits}
          maxLength={400}
          onChange={(e) => set({ fits: e.target.value })}
        />
      </Field>
      <Tick
        label="The shop's standard, where none is made for the condition"
        on={doc.standard ?? false}
        onChange={(standard) => set({ standard })}
      />
      <Condition label="It is made for" rule={doc.suits} onChange={(suits) => set({ suits })} />
      <Rounds doc={doc} set={set} />
      <fieldset className="grid gap-3">
        <legend className="mb-1 font-bold">It may be used only where</legend>
        {doc.entry.map((e, i) => (
          <div key={i} className="grid gap-1.5 rounded-xl border border-line p-2.5">
            <Condition
              label={`Entry ${i + 1}`}
              rule={e.rule}
              onChange={(rule) => set({ entry: doc.entry.map((x, j) => (j === i ? { ...x, rule } : x)) })}
            />
            <Field label="Otherwise say">
              <input
                className={inputLook}
                value={e.refusal}
                onChange={(v) => set({ entry: doc.entry.map((x, j) => (j === i ? { ...x, refusal: v.target.value } : x)) })}
              />
            </Field>
            <Button className="min-h-hit justify-self-start" onClick={() => set({ entry: doc.entry.filter((_, j) => j !== i) })}>
              Take out
            </Button>
          </div>
        ))}
        <Button
          className="justify-self-start"
          onClick={() => set({ entry: [...doc.entry, { rule: { fact: "grade overall", how: "at most", value: 3 }, refusal: "" }] })}
        >
          Add an entry
        </Button>
      </fieldset>
      <Pins pins={doc.pins ?? {}} onChange={(pins) => set({ pins })} where="by the condition" />
    </div>
  );
}
