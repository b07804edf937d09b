import { Controller, useFieldArray } from "react-hook-form";
import { usePeople } from "../api/shop";
import { NumberField, PickField, TextField } from "../kit/form";
import { inputLook } from "../kit/kit";
import { Rows } from "./Rows";
import type { ShopForm } from "./Shop";

/** What is shared: the day is laid out so that no more is in use than there is. */
export function Machines({ form }: { form: ShopForm }) {
  const { fields, append, remove } = useFieldArray({ control: form.control, name: "machines", keyName: "key" });
  return (
    <Rows
      title="Machines that are shared"
      head={["Name", "How many"]}
      keys={fields.map((row) => row.key)}
      cells={(i) => (
        <>
          <td data-head="Name">
            <TextField
              wordless
              form={form}
              name={`machines.${i}.name`}
              label="Name of the machine"
              maxLength={40}
              rules={{ required: "write it" }}
            />
          </td>
          <td data-head="How many">
            <NumberField
              wordless
              form={form}
              name={`machines.${i}.count`}
              label={`How many: ${fields[i]?.name ?? ""}`}
              min={1}
              max={20}
              className="w-24!"
            />
          </td>
        </>
      )}
      remove={remove}
      add="Add a machine"
      onAdd={() => append({ name: "", count: 1 })}
      note="Named as in the procedures: pressure washer, hose, blower. Whatever is not listed counts as one."
    />
  );
}

const two = (n: number) => String(n).padStart(2, "0");
const time = (minute: number) => `${two(Math.min(23, Math.floor(minute / 60)))}:${two(minute >= 1440 ? 59 : minute % 60)}`;
const minute = (text: string) => {
  const [h = 0, m = 0] = text.split(":").map(Number);
  return h * 60 + m;
};

/** Who works when. */
export function Shifts({ form }: { form: ShopForm }) {
  const people = (usePeople().data ?? []).filter((p) => p.role !== "auditor");
  const { fields, append, remove } = useFieldArray({ control: form.control, name: "shifts", keyName: "key" });
  const clock = (i: number, name: "from" | "to" | "breakFrom" | "breakTo", label: string, who: string) => (
    <Controller
      control={form.control}
      name={`shifts.${i}.${name}`}
      render={({ field }) => (
        <input
          aria-label={`${label}, ${people.find((p) => p.id === who)?.name ?? ""}`}
          type="time"
          className={`${inputLook} num`}
          value={field.value === undefined ? "" : time(field.value)}
          onChange={(e) => field.onChange(e.target.value === "" ? undefined : minute(e.target.value))}
        />
      )}
    />
  );
  return (
    <Rows
      title="Shifts"
      head={["Who", "From", "To", "Break from", "To"]}
      keys={fields.map((row) => row.key)}
      cells={(i) => (
        <>
          <td data-head="Who" className="min-w-36">
            <PickField
              wordless
              form={form}
              name={`shifts.${i}.personId`}
              label="Whose shift"
              options={people.map((p) => ({ value: p.id, label: p.name }))}
            />
          </td>
          <td data-head="From">{clock(i, "from", "From", fields[i]?.personId ?? "")}</td>
          <td data-head="To">{clock(i, "to", "To", fields[i]?.personId ?? "")}</td>
          <td data-head="Break from">{clock(i, "breakFrom", "Break from", fields[i]?.personId ?? "")}</td>
          <td data-head="Break to">{clock(i, "breakTo", "Break to", fields[i]?.personId ?? "")}</td>
        </>
      )}
      remove={remove}
      add="Add a shift"
      onAdd={
        people.length === 0 ? undefined : () => append({ personId: people[0]?.id ?? "", from: 480, to: 1020, breakFrom: 720, breakTo: 750 })
      }
      note="Somebody without a shift counts as there all day."
    />
  );
}
