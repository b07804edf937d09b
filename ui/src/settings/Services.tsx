import { Controller, type FieldPath, useFieldArray, useWatch } from "react-hook-form";
import { useQuery } from "@tanstack/react-query";
import { ask, client, type Schemas } from "../api/client";
import { keys } from "../api/keys";
import { useWords } from "../api/shop";
import { NumberField, PickField, TextField, TickField } from "../kit/form";
import { sentence } from "../kit/format";
import { Button, Panel, Tick } from "../kit/kit";
import type { Draft, ServiceDraft } from "./draft";
import type { ShopForm } from "./Shop";

const fresh: ServiceDraft = { name: "", families: [], procedures: [], level: "basic", takes: [], leaves: [], tyres: "none", drops: [] };

/** What the shop sells: what delivers it, what it takes off and leaves, what it costs and how long it may take. Plan, scope
 *  and audit follow from it. */
export function Services({ form }: { form: ShopForm }) {
  const { fields, append, remove } = useFieldArray({ control: form.control, name: "services", keyName: "key" });
  return (
    <Panel title="Services">
      <p className="mb-2 text-faded">
        What a customer can order. Only a wash that delivers it is recommended; what it does not take off is told before, and an audit
        accepts what it leaves.
      </p>
      <ul className="grid gap-2">
        {fields.map((row, i) => (
          <li key={row.key}>
            <Service form={form} i={i} remove={fields.length > 1 ? () => remove(i) : undefined} />
          </li>
        ))}
      </ul>
      <Button className="mt-2" onClick={() => append(fresh)}>
        Add a service
      </Button>
    </Panel>
  );
}

type Name = FieldPath<Draft>;

function Service({ form, i, remove }: { form: ShopForm; i: number; remove: (() => void) | undefined }) {
  const s = useWatch({ control: form.control, name: `services.${i}` }) as ServiceDraft;
  const currency = useWatch({ control: form.control, name: "currency" });
  const told = [s.minutes ? `${s.minutes} min` : "", s.price === undefined ? "" : `${currency}${s.price}`].filter(Boolean).join(", ");
  const named = form.getFieldState(`services.${i}`, form.formState).error !== undefined;
  return (
    <details open={s.name === "" || named} className="rounded-xl border border-line px-3">
      <summary className="flex min-h-hit flex-wrap items-center gap-x-3">
        <b>{s.name || "New service"}</b> <span className="num text-faded">{told}</span>
      </summary>
      <div className="grid gap-3 pb-3 lg:grid-cols-2">
        <div className="grid content-start gap-3">
          <TextField form={form} name={`services.${i}.name`} label="Name of the service" maxLength={60} rules={{ required: "write it" }} />
          <div className="grid grid-cols-2 gap-3">
            <NumberField
              form={form}
              name={`services.${i}.price`}
              label={`Price, ${currency}`}
              min={0}
              max={1_000_000}
              step={0.01}
              optional
            />
            <NumberField
              form={form}
              name={`services.${i}.minutes`}
              label="Minutes promised"
              hint="Empty: the promise says"
              min={1}
              max={600}
              optional
            />
            <PickField form={form} name={`services.${i}.level`} label="Finished to" options={["basic", "signature", "show"]} />
            <PickField form={form} name={`services.${i}.tyres`} label="Tyres" options={["none", "satin", "gloss"]} />
          </div>
          <div className="flex flex-wrap gap-x-5">
            <TickField form={form} name={`services.${i}.inside`} label="Inside, quickly" />
            <TickField form={form} name={`services.${i}.tips`} label="Exhaust tips" />
          </div>
          {remove && (
            <Button className="justify-self-start" onClick={remove}>
              Remove {s.name || "it"}
            </Button>
          )}
        </div>
        <Picks form={form} i={i} />
      </div>
    </details>
  );
}

/** The lists of a service, each ticked. */
function Picks({ form, i }: { form: ShopForm; i: number }) {
  const words = useWords().data;
  const procedures = useQuery({ queryKey: keys.procedures(), queryFn: () => ask(client.GET("/procedures")) });
  const families = words?.lists.families.map((f) => ({ value: f.family, label: f.title })) ?? [];
  const codes = new Set(families.map((f) => f.value));
  const own = (procedures.data ?? []).filter((p: Schemas["ProcedureCard"]) => !codes.has(p.family));
  const plain = (list: readonly string[] = []) => list.map((value) => ({ value, label: value }));
  return (
    <div className="grid content-start gap-3">
      <Ticks form={form} name={`services.${i}.families`} title="Delivered by" none="any wash" options={families} />
      {own.length > 0 && (
        <Ticks
          form={form}
          name={`services.${i}.procedures`}
          title="Or by the shop’s own"
          none="none"
          options={own.map((p) => ({ value: p.id, label: p.title }))}
        />
      )}
      <Ticks form={form} name={`services.${i}.takes`} title="Takes off" none="no bonded matter" options={plain(words?.matter)} />
      <Ticks form={form} name={`services.${i}.leaves`} title="Leaves" none="nothing" options={plain(words?.lists.leaves)} />
      <Ticks
        form={form}
        name={`services.${i}.drops`}
        title="Short of time? Drops, in the order ticked"
        none="as usual"
        options={plain(words?.lists.options)}
      />
    </div>
  );
}

/** Several of many, folded away with what is ticked in sight. */
function Ticks({
  form,
  name,
  title,
  none,
  options,
}: {
  form: ShopForm;
  name: Name;
  title: string;
  none: string;
  options: { value: string; label: string }[];
}) {
  return (
    <Controller
      control={form.control}
      name={name}
      render={({ field }) => {
        const on = (field.value ?? []) as string[];
        const label = (value: string) => options.find((o) => o.value === value)?.label ?? value;
        return (
          <details>
            <summary>
              <b>{title}:</b> {on.length ? on.map((v) => sentence(label(v))).join(", ") : none}
            </summary>
            <div className="grid sm:grid-cols-2" role="group" aria-label={title}>
              {options.map((o) => (
                <Tick
                  key={o.value}
                  label={sentence(o.label)}
                  on={on.includes(o.value)}
                  onChange={(tick) => field.onChange(tick ? [...on, o.value] : on.filter((v) => v !== o.value))}
                />
              ))}
            </div>
          </details>
        );
      }}
    />
  );
}
