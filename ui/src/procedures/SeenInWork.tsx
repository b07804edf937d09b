import { Field, inputLook, Select } from "../kit/kit";
import type { Step } from "./words";

type Set = (next: Partial<Step>) => void;

/** What only the work shows: a question whose answer decides about later steps, and what is left open as a reminder. */
export function SeenInWork({ step, earlier, set }: { step: Step; earlier: Step[]; set: Set }) {
  const asking = earlier.filter((s) => s.asks);
  const wait = step.if ? `${step.if.step} ${step.if.says}` : "";
  return (
    <fieldset className="rounded-xl border border-line p-3">
      <legend className="px-1 font-semibold">Seen in the work</legend>
      <div className="grid gap-3 md:grid-cols-2">
        <Field label="It asks" hint="Answered by yes or no, such as: Does water lie flat?">
          <input
            className={inputLook}
            value={step.asks?.text ?? ""}
            maxLength={120}
            onChange={(e) => set({ asks: e.target.value ? { ...step.asks, text: e.target.value } : undefined })}
          />
        </Field>
        {step.asks && (
          <Field label="Expected" hint="What the plan counts with until it is answered">
            <Select
              value={step.asks.expect ?? "no"}
              onChange={(expect) => set({ asks: { text: step.asks?.text ?? "", expect } })}
              options={["no", "yes"]}
            />
          </Field>
        )}
        {(asking.length > 0 || step.if) && (
          <Field label="Done only after">
            <Select
              value={wait}
              onChange={(v) => {
                const [of = "", says = ""] = v.split(" ");
                set({ if: of ? { step: of, says: says as "yes" | "no" } : undefined });
              }}
              options={[
                { value: "", label: "always, whatever is answered" },
                ...asking.flatMap((s) =>
                  (["yes", "no"] as const).map((says) => ({ value: `${s.id} ${says}`, label: `${says} to “${s.asks?.text}”` })),
                ),
              ]}
            />
          </Field>
        )}
        <Marks
          label="Leaves open, as a reminder"
          hint="With commas: filler flap, wipers up"
          names={step.opens}
          onChange={(opens) => set({ opens })}
        />
        <Marks
          label="Closes again"
          hint="The last look closes whatever is left"
          names={step.closes}
          onChange={(closes) => set({ closes })}
        />
      </div>
    </fieldset>
  );
}

function Marks({
  label,
  hint,
  names = [],
  onChange,
}: {
  label: string;
  hint: string;
  names: string[] | undefined;
  onChange: (names: string[]) => void;
}) {
  return (
    <Field label={label} hint={hint}>
      <input
        className={inputLook}
        defaultValue={names.join(", ")}
        onBlur={(e) => onChange(e.target.value.split(",").flatMap((n) => n.trim() || []))}
      />
    </Field>
  );
}
