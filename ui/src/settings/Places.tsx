import { Controller, useFieldArray, useWatch } from "react-hook-form";
import { NumberField, PickField, TextField, TickField } from "../kit/form";
import { Tick } from "../kit/kit";
import { Rows } from "./Rows";
import type { ShopForm } from "./Shop";

/** What mixes are made in, and how much each holds to its line. */
export function Vessels({ form }: { form: ShopForm }) {
  const { fields, append, remove } = useFieldArray({ control: form.control, name: "vessels" });
  return (
    <Rows
      title="Vessels"
      head={["Name", "Kind", "Holds, ml"]}
      keys={fields.map((row) => row.id)}
      cells={(i) => (
        <>
          <td data-head="Name">
            <TextField
              wordless
              form={form}
              name={`vessels.${i}.name`}
              label="Name of the vessel"
              maxLength={60}
              rules={{ required: "write it" }}
            />
          </td>
          <td data-head="Kind" className="sm:min-w-36">
            <PickField
              wordless
              form={form}
              name={`vessels.${i}.kind`}
              label="Kind of vessel"
              options={["bucket", "foam bottle", "sprayer", "cap", "pump"]}
            />
          </td>
          <td data-head="Holds, ml">
            <NumberField
              wordless
              form={form}
              name={`vessels.${i}.holds`}
              label="Holds, ml"
              min={0.1}
              max={1_000_000}
              step={0.1}
              className="sm:w-24!"
            />
          </td>
        </>
      )}
      remove={remove}
      add="Add a vessel"
      onAdd={() => append({ name: "", kind: "sprayer", holds: 1000 })}
      note="A vessel to its line, a cap a capful, a pump a stroke."
    />
  );
}

/** Where the shop washes: what each place gives decides which procedures may be used there. */
export function Places({ form }: { form: ShopForm }) {
  const { fields, append, remove } = useFieldArray({ control: form.control, name: "places", keyName: "key" });
  return (
    <Rows
      title="Places"
      head={["Name", "Cover", "Water", "May run off", "Blower", "Nose points to", "Its own"]}
      keys={fields.map((row) => row.key)}
      cells={(i) => (
        <>
          <td data-head="Name">
            <TextField
              wordless
              form={form}
              name={`places.${i}.name`}
              label="Name of the place"
              maxLength={80}
              rules={{ required: "write it" }}
            />
          </td>
          <td data-head="Cover">
            <PickField wordless form={form} name={`places.${i}.cover`} label="Cover" options={["open sky", "shade", "indoors"]} />
          </td>
          <td data-head="Water">
            <PickField
              wordless
              form={form}
              name={`places.${i}.supply`}
              label="Water supply"
              options={["pressure washer", "hose", "carried water"]}
            />
          </td>
          <td data-head="May run off" className="sm:text-center">
            <TickField wordless form={form} name={`places.${i}.runoff`} label="Wash water may run off" className="sm:justify-center" />
          </td>
          <td data-head="Blower" className="sm:text-center">
            <TickField wordless form={form} name={`places.${i}.blower`} label="A blower may be used" className="sm:justify-center" />
          </td>
          <td data-head="Nose points to, °">
            <NumberField
              wordless
              form={form}
              name={`places.${i}.heading`}
              label="Nose points to, degrees from north"
              min={0}
              max={360}
              className="w-24!"
            />
          </td>
          <td data-head="Its own">
            <Own form={form} i={i} />
          </td>
        </>
      )}
      least={1}
      remove={remove}
      add="Add a place"
      onAdd={() => append({ name: "", cover: "shade", supply: "hose", runoff: false, blower: true, heading: 0 })}
      note="Degrees from north: 0 north, 90 east. Local rules on drains decide whether water may run off."
    />
  );
}

/** Which other water there is at a place: a hose beside the washer, carried water beside the hose. */
function Further({ form, i }: { form: ShopForm; i: number }) {
  const main = useWatch({ control: form.control, name: `places.${i}.supply` });
  return (
    <Controller
      control={form.control}
      name={`places.${i}.also`}
      render={({ field }) => (
        <fieldset>
          <legend className="font-semibold">Also there</legend>
          {(["pressure washer", "hose", "carried water"] as const)
            .filter((s) => s !== main)
            .map((s) => {
              const on = (field.value ?? []).includes(s);
              const rest = (field.value ?? []).filter((x) => x !== s && x !== main);
              return <Tick key={s} label={s} on={on} onChange={(yes) => field.onChange(yes ? [...rest, s] : rest)} />;
            })}
        </fieldset>
      )}
    />
  );
}

/** What a place has of its own: its air, its jet, its water. */
function Own({ form, i }: { form: ShopForm; i: number }) {
  return (
    <details>
      <summary className="min-h-hit font-semibold text-tide">Air, jet, water</summary>
      <div className="grid min-w-44 gap-2 py-2">
        <NumberField form={form} name={`places.${i}.heated`} label="Heated to, °C" min={-10} max={35} step={0.5} optional />
        <NumberField
          form={form}
          name={`places.${i}.jet`}
          label="Jet, MPa"
          hint="10 bar are 1 MPa; over 14 is kept off paint"
          min={0}
          max={40}
          step={0.1}
          optional
        />
        <NumberField form={form} name={`places.${i}.flow`} label="Flow, l/min" min={0} max={60} step={0.1} optional />
        <NumberField form={form} name={`places.${i}.solids`} label="Dissolved, mg/l" min={0} max={10_000} optional />
        <TickField form={form} name={`places.${i}.deioniser`} label="Deioniser" />
        <TickField form={form} name={`places.${i}.oneSided`} label="Lines from one side only" />
        <Further form={form} i={i} />
      </div>
    </details>
  );
}
