import { Button, Field } from "../kit/kit";
import { Count } from "../kit/number";
import { Condition } from "./Condition";
import type { Step } from "./words";

type Set = (next: Partial<Step>) => void;
type Uses = NonNullable<Step["uses"]>;

/** How much a step takes of its product or of its mix; left empty the product's kind says. */
export function Takes({ step, set }: { step: Step; set: Set }) {
  const of = step.uses ?? {};
  const put = (next: Partial<Uses>) => {
    const all = { ...of, ...next };
    set({ uses: all.fixed || all.perM2 || all.perWheel ? all : undefined });
  };
  return (
    <>
      <Field label="Takes in all, ml" hint="0: by the product's kind">
        <Count value={of.fixed ?? 0} max={20_000} onChange={(fixed) => put({ fixed })} />
      </Field>
      <Field label="And a square metre, ml">
        <Count value={of.perM2 ?? 0} max={2000} onChange={(perM2) => put({ perM2 })} />
      </Field>
      <Field label="And a wheel, ml">
        <Count value={of.perWheel ?? 0} max={2000} onChange={(perWheel) => put({ perWheel })} />
      </Field>
    </>
  );
}

/** Other strengths of a mix by condition, such as stronger from grade 3 on. */
export function Strengths({ step, set }: { step: Step; set: Set }) {
  const d = step.dose;
  if (!d) return null;
  const list = d.stronger ?? [];
  const put = (stronger: typeof list) => set({ dose: { ...d, stronger } });
  return (
    <div className="mt-3 grid gap-2">
      {list.map((s, i) => {
        const change = (next: Partial<typeof s>) => put(list.map((x, j) => (j === i ? { ...x, ...next } : x)));
        return (
          <div key={i} className="grid gap-2 rounded-lg border border-line p-2">
            <Condition label="Another strength where" rule={s.when} onChange={(when) => change({ when })} />
            <div className="grid grid-cols-2 gap-2">
              <Field label="Parts product">
                <Count whole value={s.ratio.product} onChange={(n) => change({ ratio: { ...s.ratio, product: Math.max(1, n) } })} />
              </Field>
              <Field label="Parts water">
                <Count whole value={s.ratio.water} onChange={(n) => change({ ratio: { ...s.ratio, water: Math.max(1, n) } })} />
              </Field>
            </div>
            <Button className="justify-self-start" onClick={() => put(list.filter((_, j) => j !== i))}>
              Take out
            </Button>
          </div>
        );
      })}
      <Button className="justify-self-start" onClick={() => put([...list, { when: {}, ratio: d.ratio }])}>
        Add another strength
      </Button>
    </div>
  );
}
