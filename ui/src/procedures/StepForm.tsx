import { Copy, Scissors, Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { useSettings, useShelf, useWords } from "../api/shop";
import { Car } from "../car/Car";
import { Button, Field, inputLook, Select, Tick } from "../kit/kit";
import { Count } from "../kit/number";
import { Condition } from "../kit/Condition";
import { CountedFields, type Dose, Extras, Strengths, Takes } from "./Amounts";
import { SeenInWork } from "./SeenInWork";
import { type Change, stepEdits } from "./stepEdits";
import { type Procedure, type Step, stepsOf, touches } from "./words";

/** Everything a step holds. */
export function StepForm({ doc, step, change, onSelect }: { doc: Procedure; step: Step; change: Change; onSelect: (id: string) => void }) {
  const lists = useWords().data?.lists;
  const { set, duplicate, split, remove, moveTo } = stepEdits(doc, step, change, onSelect);
  const text = (key: "title" | "tool" | "cloth" | "colour" | "machine", label: string, hint?: string) => (
    <Field label={label} hint={hint}>
      <input className={inputLook} value={step[key] ?? ""} maxLength={200} onChange={(e) => set({ [key]: e.target.value })} />
    </Field>
  );
  const long = (key: "text" | "reason" | "lookFor", label: string, rows = 2) => (
    <Field label={label}>
      <textarea
        className={`${inputLook} py-2`}
        rows={rows}
        value={step[key] ?? ""}
        maxLength={2000}
        onChange={(e) => set({ [key]: e.target.value })}
      />
    </Field>
  );
  const earlier = stepsOf(doc).slice(
    0,
    stepsOf(doc).findIndex((s) => s.id === step.id),
  );
  const working = earlier.filter((s) => s.dwell);
  const stage = doc.stages.find((s) => s.steps.some((x) => x.id === step.id));
  if (!lists) return null;
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap gap-2">
        <Button onClick={duplicate}>
          <Copy size={16} aria-hidden /> Duplicate
        </Button>
        <Button onClick={split} disabled={!/[.;]\s/.test(step.text)}>
          <Scissors size={16} aria-hidden /> Split
        </Button>
        <div className="w-36">
          <Select
            label="Stage"
            value={stage?.id ?? ""}
            onChange={moveTo}
            options={doc.stages.map((s) => ({ value: s.id, label: s.title }))}
          />
        </div>
        <Button onClick={remove}>
          <Trash2 size={16} aria-hidden /> Take out
        </Button>
      </div>
      {(doc.rounds ?? []).length > 0 && <InRound doc={doc} step={step} set={set} />}
      {text("title", "Title")}
      {long("text", "Instruction", 3)}
      <div className="grid gap-3 md:grid-cols-3">
        <Field label="Zones">
          <Select
            value={step.zones}
            onChange={(zones) => set({ zones, only: zones === "chosen zones" ? (step.only ?? []) : [] })}
            options={lists.zones as Step["zones"][]}
          />
        </Field>
        <Field label="Technique">
          <Select value={step.technique} onChange={(technique) => set({ technique })} options={lists.techniques as Step["technique"][]} />
        </Field>
        <Field label="Skill needed">
          <Select
            value={step.skill ?? ""}
            onChange={(v) => set({ skill: v as NonNullable<Step["skill"]> })}
            options={[{ value: "", label: "none" }, ...lists.skills.map((v) => ({ value: v, label: v }))]}
          />
        </Field>
      </div>
      {step.zones === "chosen zones" && (
        <Group title="Which zones">
          <Car
            body="hatch"
            lit={step.only ?? []}
            onPick={(z) => set({ only: step.only?.includes(z) ? step.only.filter((x) => x !== z) : [...(step.only ?? []), z] })}
            className="mx-auto max-h-72"
          />
        </Group>
      )}
      <Time step={step} set={set} />
      <Group title="Product">
        <Product step={step} set={set} lists={lists} />
        <Strengths step={step} set={set} />
        <Extras step={step} set={set} classes={lists.classes as Dose["class"][]} />
      </Group>
      <Dwell step={step} set={set} working={working} />
      <Condition label="It applies" rule={step.when} onChange={(when) => set({ when })} />
      <div className="grid gap-3 md:grid-cols-2">
        {long("reason", "Why")}
        {long("lookFor", "Done when")}
      </div>
      <div className="grid gap-3 md:grid-cols-3">
        <Field label="Cleans without touch">
          <Select
            value={step.act ?? ""}
            onChange={(v) => set({ act: v as NonNullable<Step["act"]> })}
            options={[{ value: "", label: "nothing" }, ...lists.acts.map((v) => ({ value: v, label: v }))]}
          />
        </Field>
        {text("machine", "Machine")}
        {text("tool", "Tool")}
        {text("cloth", "Cloth and how many")}
        {text("colour", "Cloth colour: where it may go")}
        {touches(step) && (
          <Field label="What touches">
            <Select
              value={step.medium ?? ""}
              onChange={(v) => set({ medium: v as NonNullable<Step["medium"]> })}
              options={[{ value: "", label: "as the technique says" }, ...lists.media.map((v) => ({ value: v, label: v }))]}
            />
          </Field>
        )}
        {step.technique === "towel wash" && (
          <Field label="Cloths" hint="Empty: as many as the dirt asks for">
            <Count value={step.cloths ?? 0} onChange={(cloths) => set({ cloths })} />
          </Field>
        )}
        {touches(step) && <Tick label="A cloth in each hand" on={step.bothHands ?? false} onChange={(bothHands) => set({ bothHands })} />}
      </div>
      {earlier.length > 0 && (
        <Group title="Comes after">
          <div className="grid max-h-40 overflow-auto md:grid-cols-2">
            {earlier.map((s) => (
              <Tick
                key={s.id}
                label={s.title}
                on={(step.after ?? []).includes(s.id)}
                onChange={(yes) => set({ after: yes ? [...(step.after ?? []), s.id] : (step.after ?? []).filter((x) => x !== s.id) })}
              />
            ))}
          </div>
        </Group>
      )}
      <SeenInWork key={step.id} step={step} earlier={earlier} set={set} />
      <Sayings step={step} set={set} />
      <Field label="Cautions, a line each" hint="The label, the safety data sheet and local codes come first.">
        <textarea
          className={`${inputLook} py-2`}
          rows={3}
          value={(step.cautions ?? []).join("\n")}
          onChange={(e) => set({ cautions: e.target.value.split("\n") })}
          onBlur={() => set({ cautions: (step.cautions ?? []).map((c) => c.trim()).filter(Boolean) })}
        />
      </Field>
    </div>
  );
}

/** The round that the step belongs to, and whether it is done for each part of the car or once. */
function InRound({ doc, step, set }: { doc: Procedure; step: Step; set: (next: Partial<Step>) => void }) {
  return (
    <div className="grid gap-3 md:grid-cols-2">
      <Field label="Round" hint="Its steps stand together, one after the other.">
        <Select
          value={step.round ?? ""}
          onChange={(round) => set({ round, once: "" })}
          options={[
            { value: "", label: "none: once, for the whole car" },
            ...(doc.rounds ?? []).map((r) => ({ value: r.id, label: r.title })),
          ]}
        />
      </Field>
      {step.round && (
        <Field label="In the round">
          <Select
            value={step.once ?? ""}
            onChange={(once) => set({ once })}
            options={[
              { value: "", label: "for each part" },
              { value: "before", label: "once before the first part" },
              { value: "after", label: "once after the last part" },
            ]}
          />
        </Field>
      )}
    </div>
  );
}

/** How long hands are on it, by what the time grows with. */
function Time({ step, set }: { step: Step; set: (next: Partial<Step>) => void }) {
  if (touches(step)) {
    return (
      <Group title="Time, hands on">
        <Field
          label="Besides the washing, min"
          hint="How long the cloth is on the paint follows from the car, its dirt and the rinses that the plan asks for."
        >
          <Count value={step.time.fixed} onChange={(fixed) => set({ time: { ...step.time, fixed } })} />
        </Field>
      </Group>
    );
  }
  return (
    <Group title="Time, hands on">
      <div className="grid grid-cols-3 gap-3">
        {(
          [
            ["fixed", "Fixed, min"],
            ["body", "Body, mid-size, min"],
            ["perWheel", "A wheel, min"],
          ] as const
        ).map(([key, label]) => (
          <Field key={key} label={label}>
            <Count value={step.time[key]} onChange={(n) => set({ time: { ...step.time, [key]: n } })} />
          </Field>
        ))}
      </div>
      <div className="mt-2 flex gap-6">
        <Tick label="More with soil" on={step.time.soiled} onChange={(soiled) => set({ time: { ...step.time, soiled } })} />
        <Tick
          label="Runs by itself"
          on={step.time.unattended ?? false}
          onChange={(unattended) => set({ time: { ...step.time, unattended } })}
        />
      </div>
    </Group>
  );
}

/** How long product works, and what it has to do with the products before it. */
function Dwell({ step, set, working }: { step: Step; set: (next: Partial<Step>) => void; working: Step[] }) {
  return (
    <Group title="Dwell">
      <Tick
        label="Product works on the car for a while"
        on={Boolean(step.dwell)}
        onChange={(on) => set(on ? { dwell: { min: 60, max: 180 } } : ({ dwell: undefined } as Partial<Step>))}
      />
      {step.dwell && (
        <div className="mt-2 grid grid-cols-[8rem_8rem_1fr] gap-3">
          <Field label="From, min">
            <Count
              value={step.dwell.min / 60}
              onChange={(n) => set({ dwell: { ...(step.dwell as NonNullable<Step["dwell"]>), min: Math.round(n * 60) } })}
            />
          </Field>
          <Field label="To, min">
            <Count
              value={step.dwell.max / 60}
              onChange={(n) => set({ dwell: { ...(step.dwell as NonNullable<Step["dwell"]>), max: Math.round(n * 60) } })}
            />
          </Field>
          <Field label="Sign that it works">
            <input
              className={inputLook}
              value={step.dwell.cue ?? ""}
              onChange={(e) => set({ dwell: { ...(step.dwell as NonNullable<Step["dwell"]>), cue: e.target.value } })}
            />
          </Field>
          <div className="col-span-3">
            <Tick
              label="Item by item within this step"
              on={step.dwell.each ?? false}
              onChange={(each) => set({ dwell: { ...(step.dwell as NonNullable<Step["dwell"]>), each } })}
            />
          </div>
        </div>
      )}
      {working.length > 0 && (
        <div className="mt-3 grid gap-3 md:grid-cols-2">
          <Picks label="Takes off the product of" all={working} on={step.ends ?? []} onChange={(ends) => set({ ends })} />
          {step.dwell && (
            <Picks
              label="Re-wets the product of"
              all={working}
              on={step.rewets ?? []}
              onChange={(rewets) => set(rewets.length > 0 ? { rewets } : { rewets, repeats: undefined })}
            />
          )}
          {(step.rewets ?? []).length > 0 && (
            <Tick
              label="Repeats itself as often as that would dry"
              on={step.repeats ?? false}
              onChange={(repeats) => set({ repeats: repeats || undefined })}
            />
          )}
          {step.technique === "agitate" && (
            <Tick label="Works product in as soon as it is on" on={step.fresh ?? false} onChange={(fresh) => set({ fresh })} />
          )}
          <Field label="May run while this works">
            <Select
              value={step.during ?? ""}
              onChange={(during) => set({ during })}
              options={[{ value: "", label: "nothing in particular" }, ...working.map((s) => ({ value: s.id, label: s.title }))]}
            />
          </Field>
        </div>
      )}
    </Group>
  );
}

/** Sentences that are said only where a condition holds. */
function Sayings({ step, set }: { step: Step; set: (next: Partial<Step>) => void }) {
  return (
    <Group title="Sentences that depend on the condition">
      {(step.says ?? []).map((saying, i) => (
        <div key={i} className="mb-2 grid gap-1.5 rounded-lg border border-line p-2">
          <Condition
            label="Where"
            rule={saying.when}
            onChange={(when) => set({ says: (step.says ?? []).map((x, j) => (j === i ? { ...x, when } : x)) })}
          />
          <input
            aria-label="Sentence"
            className={inputLook}
            value={saying.text}
            onChange={(e) => set({ says: (step.says ?? []).map((x, j) => (j === i ? { ...x, text: e.target.value } : x)) })}
          />
          <Button className="min-h-hit justify-self-start" onClick={() => set({ says: (step.says ?? []).filter((_, j) => j !== i) })}>
            Take out
          </Button>
        </div>
      ))}
      <Button onClick={() => set({ says: [...(step.says ?? []), { when: {}, text: "" }] })}>Add a sentence</Button>
    </Group>
  );
}

function Product({ step, set, lists }: { step: Step; set: (s: Partial<Step>) => void; lists: Schemas["Lists"] }) {
  const shelf = useShelf().data?.products ?? [];
  const vessels = useSettings().data?.settings.vessels ?? [];
  const d = step.dose;
  const mode = d ? "mixed" : step.class ? "neat" : "none";
  const first = lists.classes[0] as NonNullable<Step["class"]>;
  const fresh: NonNullable<Step["dose"]> = {
    class: step.class ?? first,
    ratio: { product: 1, water: 9 },
    vessel: "1 l sprayer",
    fill: 1000,
    byWater: false,
    reading: "parts plus parts",
  };
  const put = (next: Partial<NonNullable<Step["dose"]>>) => d && set({ dose: { ...d, ...next } });
  return (
    <div className="grid gap-3 md:grid-cols-3">
      <Field label="Used">
        <Select
          value={mode}
          onChange={(m) =>
            set(
              m === "none"
                ? ({ dose: undefined, class: undefined } as Partial<Step>)
                : m === "neat"
                  ? ({ dose: undefined, class: d?.class ?? first } as Partial<Step>)
                  : ({ dose: fresh, class: undefined } as Partial<Step>),
            )
          }
          options={[
            { value: "none", label: "no product" },
            { value: "neat", label: "as it comes" },
            { value: "mixed", label: "mixed" },
          ]}
        />
      </Field>
      {mode !== "none" && (
        <Field label="Class">
          <Select
            value={(d?.class ?? step.class) as string}
            onChange={(v) => {
              const of = v as NonNullable<Step["class"]>;
              if (d) put({ class: of });
              else set({ class: of });
            }}
            options={lists.classes}
          />
        </Field>
      )}
      {mode !== "none" && (
        <Field label="Product">
          <Select
            value={step.product ?? ""}
            onChange={(product) => set({ product })}
            options={[
              { value: "", label: "any of the class" },
              ...shelf.filter((p) => p.class === (d?.class ?? step.class)).map((p) => ({ value: p.id, label: p.name })),
            ]}
          />
        </Field>
      )}
      <Field label="Water">
        <Select
          value={step.water ?? ""}
          onChange={(v) => set({ water: v as NonNullable<Step["water"]> })}
          options={[{ value: "", label: "any" }, ...lists.waters.map((v) => ({ value: v, label: v }))]}
        />
      </Field>
      {d && (
        <>
          <Field label="Measured">
            <Select
              value={d.counted ? "counted" : "ratio"}
              onChange={(by) => put({ counted: by === "counted" ? { count: 20, unit: "ml" } : undefined })}
              options={[
                { value: "ratio", label: "by ratio" },
                { value: "counted", label: "counted in" },
              ]}
            />
          </Field>
          {d.counted ? <CountedFields of={d.counted} put={(counted) => put({ counted })} /> : <RatioFields d={d} put={put} />}
          <Field label="Vessel">
            <input className={inputLook} list="vessels" value={d.vessel} onChange={(e) => put({ vessel: e.target.value })} />
            <datalist id="vessels">
              {vessels.map((v) => (
                <option key={v.name} value={v.name} />
              ))}
            </datalist>
          </Field>
          <Field label="Holds, ml">
            <Count value={d.fill} onChange={(fill) => put({ fill })} />
          </Field>
          <Tick label="The ml are water; the product comes on top" on={d.byWater} onChange={(byWater) => put({ byWater })} />
        </>
      )}
      {mode !== "none" && <Takes step={step} set={set} />}
    </div>
  );
}

function RatioFields({ d, put }: { d: Dose; put: (next: Partial<Dose>) => void }) {
  return (
    <>
      <Field label="Parts product">
        <Count whole value={d.ratio.product} onChange={(n) => put({ ratio: { ...d.ratio, product: Math.max(1, n) } })} />
      </Field>
      <Field label="Parts water">
        <Count whole value={d.ratio.water} onChange={(n) => put({ ratio: { ...d.ratio, water: Math.max(1, n) } })} />
      </Field>
      <Field label="Label reads">
        <Select
          value={d.reading}
          onChange={(reading) => put({ reading })}
          options={["parts plus parts", "one part in", "water first"] as const}
        />
      </Field>
    </>
  );
}

function Picks({ label, all, on, onChange }: { label: string; all: Step[]; on: string[]; onChange: (ids: string[]) => void }) {
  return (
    <fieldset>
      <legend className="font-semibold">{label}</legend>
      {all.map((s) => (
        <Tick
          key={s.id}
          label={s.title}
          on={on.includes(s.id)}
          onChange={(yes) => onChange(yes ? [...on, s.id] : on.filter((x) => x !== s.id))}
        />
      ))}
    </fieldset>
  );
}

function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="rounded-xl border border-line p-3">
      <legend className="px-1 font-bold">{title}</legend>
      {children}
    </fieldset>
  );
}
