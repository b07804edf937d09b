import { Button, Field, Select } from "../kit/kit";
import { Count } from "../kit/number";
import { Condition } from "../kit/Condition";
import type { Step } from "./words";

type Set = (next: Partial<Step>) => void;
type Uses = NonNullable<Step["uses"]>;
export type Dose = NonNullable<Step["dose"]>;
type Counted = NonNullable<Dose["counted"]>;

/** A dose as it is counted into the vessel: ml, ounces, caps, pumps. */
export function CountedFields({ of, put, whose = "" }: { of: Counted; put: (c: Counted) => void; whose?: string }) {
  const held = of.unit === "cap" || of.unit === "pump";
  return (
    <>
      <Field label={`How many${whose}`}>
        <Count value={of.count} max={20_000} onChange={(count) => put({ ...of, count })} />
      </Field>
      <Field label={`Counted in${whose}`}>
        <Select
          value={of.unit}
          onChange={(unit) => put(unit === "cap" || unit === "pump" ? { ...of, unit, each: of.each ?? 4 } : { count: of.count, unit })}
          options={[
            { value: "ml", label: "ml" },
            { value: "US fl oz", label: "US fl oz" },
            { value: "cap", label: "caps" },
            { value: "pump", label: "pumps" },
          ]}
        />
      </Field>
      {held && (
        <Field label={`One holds, ml${whose}`} hint="Measure it once">
          <Count value={of.each ?? 0} max={1000} onChange={(each) => put({ ...of, each })} />
        </Field>
      )}
    </>
  );
}

/** Further products in the vessel of the step's dose. */
export function Extras({ step, set, classes }: { step: Step; set: Set; classes: Dose["class"][] }) {
  const d = step.dose;
  if (!d) return null;
  const list = d.extras ?? [];
  const put = (extras: typeof list) => set({ dose: { ...d, extras } });
  return (
    <div className="mt-3 grid gap-2">
      {list.map((e, i) => {
        const change = (next: Partial<typeof e>) => put(list.map((x, j) => (j === i ? { ...x, ...next } : x)));
        const whose = `, product ${i + 2}`;
        return (
          <div key={i} className="grid gap-2 rounded-lg border border-line p-2 md:grid-cols-3">
            <Field label={`Class${whose}`}>
              <Select value={e.class} onChange={(c) => change({ class: c as Dose["class"] })} options={classes} />
            </Field>
            <CountedFields of={e.counted} put={(counted) => change({ counted })} whose={whose} />
            <Button className="justify-self-start" onClick={() => put(list.filter((_, j) => j !== i))}>
              Take it out
            </Button>
          </div>
        );
      })}
      <Button
        className="justify-self-start"
        onClick={() => put([...list, { class: classes[0] as Dose["class"], counted: { count: 20, unit: "ml" } }])}
      >
        Add a product to the vessel
      </Button>
    </div>
  );
}

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
              {s.counted ? (
                <CountedFields of={s.counted} put={(counted) => change({ counted })} whose={`, strength ${i + 2}`} />
              ) : (
                <>
                  <Field label="Parts product">
                    <Count whole value={s.ratio.product} onChange={(n) => change({ ratio: { ...s.ratio, product: Math.max(1, n) } })} />
                  </Field>
                  <Field label="Parts water">
                    <Count whole value={s.ratio.water} onChange={(n) => change({ ratio: { ...s.ratio, water: Math.max(1, n) } })} />
                  </Field>
                </>
              )}
            </div>
            <Button className="justify-self-start" onClick={() => put(list.filter((_, j) => j !== i))}>
              Take out
            </Button>
          </div>
        );
      })}
      <Button
        className="justify-self-start"
        onClick={() => put([...list, { when: {}, ratio: d.ratio, ...(d.counted ? { counted: d.counted } : {}) }])}
      >
        Add another strength
      </Button>
    </div>
  );
}
