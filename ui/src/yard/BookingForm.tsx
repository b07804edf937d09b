import { useState } from "react";
import { Controller, type FieldErrors, useForm, type UseFormReturn, useWatch } from "react-hook-form";
import { usePeople, useSettings, useWords } from "../api/shop";
import { NumberField, TextField, useDebounced, useRefused } from "../kit/form";
import type { Schemas } from "../api/client";
import { dateOf, hour, minutes, momentOf, money } from "../kit/format";
import { Button, Choice, Field, Select, Tick, Trouble } from "../kit/kit";
import { clock } from "../offline/queue";
import { blank, bodyOf, type Card, fields, useFit, useSave, type Values, type Vehicle } from "./booking";
import { FitPanel } from "./FitPanel";
import { VehiclePicker } from "./VehiclePicker";

const minute = 60_000;

/** What a form begins with: now and an hour and a half, or what is booked. */
function start(change: Card | undefined): Values {
  const now = Math.ceil(clock.now() / (5 * minute)) * 5 * minute;
  const arrives = change?.arrivesAt ?? new Date(now).toISOString();
  const ready = change?.promisedAt ?? new Date(now + 90 * minute).toISOString();
  return {
    plate: "",
    label: "",
    spec: blank,
    date: dateOf(arrives),
    arrives: hour(arrives),
    ready: hour(ready),
    service: change?.service ?? "",
    placeId: change?.place.id ?? "",
    washerId: change?.washer?.id ?? "",
  };
}

interface Props {
  /** The booking that is changed; a new one without. */
  change?: Card;
  /** It begins with a vehicle that the shop does not know. */
  fresh?: boolean;
  onDone: (booking: Card) => void;
  act?: string;
}

/** Books a wash, or changes what is booked: a vehicle found by typing or a new one, the day and the hours, where, who;
 *  whether it fits is said before it is saved. */
export function BookingForm({ change, fresh, onDone, act = "Book" }: Props) {
  const form = useForm<Values>({ defaultValues: start(change) });
  const [vehicle, setVehicle] = useState<Pick<Vehicle, "id" | "label" | "plate"> | "new" | undefined>(
    change ? { id: change.vehicleId, label: change.label, plate: change.plate } : fresh ? "new" : undefined,
  );
  const settings = useSettings().data?.settings;
  const places = settings?.places ?? [];
  const first = settings?.services?.[0]?.id ?? "";
  const values = useDebounced(useWatch({ control: form.control }) as Values);
  const known = typeof vehicle === "object" ? vehicle : undefined;
  const fit = useFit(known && bodyOf(values, known.id, places, first), change?.id);
  const save = useSave(change, onDone);
  const error = useRefused(form, save.error, fields);
  const submit = form.handleSubmit((v) => {
    const body = bodyOf(v, known?.id ?? "", places, first);
    if (body) save.mutate({ body, fresh: vehicle === "new" ? { plate: v.plate.trim(), label: v.label.trim(), spec: v.spec } : undefined });
  });
  return (
    <form onSubmit={(e) => void submit(e)} noValidate className="grid max-w-2xl gap-4">
      <div className="grid gap-3">
        {known && (
          <p className="flex flex-wrap items-center justify-between gap-2 rounded-xl border-2 border-tide bg-tide-wash p-2.5">
            <span>
              <b>{known.label}</b> <span className="num">{known.plate}</span>
            </span>
            {!change && <Button onClick={() => setVehicle(undefined)}>Another</Button>}
          </p>
        )}
        {vehicle === undefined && (
          <VehiclePicker onPick={setVehicle} onNew={(plate) => (form.setValue("plate", plate), setVehicle("new"))} />
        )}
        {vehicle === "new" && <NewVehicle form={form} another={() => setVehicle(undefined)} />}
      </div>
      <div className="grid gap-3">
        <When form={form} />
        <Where form={form} />
        {fit.data && known && (
          <FitPanel
            fit={fit.data}
            busy={fit.isFetching}
            take={(p) => {
              form.setValue("placeId", p.place);
              form.setValue("washerId", p.washer.id);
              form.setValue("arrives", hour(p.startsAt));
              if (p.late > 0) form.setValue("ready", hour(p.readyAt));
            }}
          />
        )}
        {fit.error && known && <p className="text-faded">Cannot check now whether it fits: {fit.error.message}</p>}
        {error ? <Trouble error={error} /> : null}
        <Button look="act" type="submit" disabled={save.isPending || vehicle === undefined} className="min-h-14">
          {act}
        </Button>
      </div>
    </form>
  );
}

type Form = UseFormReturn<Values>;

const required = { required: "write it" };

/** A vehicle that the shop does not know yet. */
function NewVehicle({ form, another }: { form: Form; another: () => void }) {
  const bodies = useWords().data?.bodies ?? [];
  const { control } = form;
  return (
    <div className="grid gap-3">
      <TextField form={form} name="plate" label="Plate" maxLength={20} rules={required} />
      <TextField form={form} name="label" label="What it is" maxLength={80} placeholder="Harbour office estate" rules={required} />
      <Controller
        control={control}
        name="spec"
        render={({ field: { value: spec, onChange } }) => (
          <div className="grid grid-cols-2 gap-3">
            <Field label="Body">
              <Select
                value={spec.body}
                onChange={(body) => onChange({ ...spec, body })}
                options={bodies.map((b) => ({ value: b.body, label: b.label }))}
              />
            </Field>
            <Field label="Shade">
              <Select value={spec.shade} onChange={(shade) => onChange({ ...spec, shade })} options={["white", "silver", "mid", "dark"]} />
            </Field>
            <Field label="Finish">
              <Select
                value={spec.finish}
                onChange={(finish) => onChange({ ...spec, finish })}
                options={["ordinary", "soft", "hard", "satin"]}
              />
            </Field>
            <Field label="Spokes">
              <Select
                value={spec.wheels.spokes}
                onChange={(spokes) => onChange({ ...spec, wheels: { ...spec.wheels, spokes } })}
                options={["open", "plain", "many"]}
              />
            </Field>
            <Tick label="Electric" on={spec.electric} onChange={(electric) => onChange({ ...spec, electric })} />
            <Tick label="Glass roof" on={spec.glassRoof ?? false} onChange={(glassRoof) => onChange({ ...spec, glassRoof })} />
          </div>
        )}
      />
      <NumberField form={form} name="spec.wheels.inches" label="Wheels, inches" min={12} max={24} />
      <Button className="justify-self-start" onClick={another}>
        A vehicle the shop knows
      </Button>
    </div>
  );
}

/** The day, when it comes and when it is promised. */
function When({ form }: { form: Form }) {
  const date = useWatch({ control: form.control, name: "date" });
  const days = [0, 1].map((n) => dateOf(new Date(clock.now() + n * 86_400_000)));
  const after = (errors: FieldErrors<Values>) => errors.ready?.message;
  return (
    <>
      <div className="flex flex-wrap items-end gap-2" role="group" aria-label="Day">
        {["Today", "Tomorrow"].map((label, n) => (
          <Button
            key={label}
            aria-pressed={date === days[n]}
            look={date === days[n] ? "act" : "plain"}
            onClick={() => form.setValue("date", days[n] ?? "")}
          >
            {label}
          </Button>
        ))}
        <TextField form={form} name="date" label="Day" type="date" rules={required} />
      </div>
      <div className="grid grid-cols-2 gap-3">
        <TextField form={form} name="arrives" label="Comes at" type="time" rules={required} />
        <TextField
          form={form}
          name="ready"
          label="Promised for"
          type="time"
          rules={{ ...required, validate: (ready = "", v) => ready > v.arrives || "must be after it comes" }}
          aria-describedby={after(form.formState.errors)}
        />
      </div>
    </>
  );
}

/** Where, for what, by whom. */
function Where({ form }: { form: Form }) {
  const { control } = form;
  const settings = useSettings().data?.settings;
  const people = usePeople().data ?? [];
  const places = settings?.places ?? [];
  const services = settings?.services ?? [];
  const named = (s: Schemas["Service"]) =>
    [s.name, s.minutes ? minutes(s.minutes) : "", s.price ? money(s.price, settings?.currency ?? "") : ""].filter(Boolean).join(", ");
  /** A service that promises its minutes is promised by them. */
  const order = (id: string) => {
    const promised = services.find((s) => s.id === id)?.minutes;
    const { date, arrives } = form.getValues();
    if (promised && date && arrives)
      form.setValue("ready", hour(new Date(momentOf(date, arrives).getTime() + promised * minute)), { shouldDirty: true });
  };
  return (
    <>
      <Controller
        control={control}
        name="placeId"
        render={({ field }) => (
          <Choice
            label="Place"
            value={field.value || (places[0]?.id ?? "")}
            onChange={field.onChange}
            options={places.map((x) => ({ value: x.id ?? x.name, label: x.name }))}
          />
        )}
      />
      <Controller
        control={control}
        name="service"
        render={({ field }) => (
          <Field label="Service">
            <Select
              value={field.value || (services[0]?.id ?? "")}
              onChange={(id) => (field.onChange(id), order(id))}
              options={services.map((s) => ({ value: s.id ?? "", label: named(s) }))}
            />
          </Field>
        )}
      />
      <Controller
        control={control}
        name="washerId"
        render={({ field }) => (
          <Field label="Who">
            <Select
              value={field.value}
              onChange={field.onChange}
              options={[
                { value: "", label: "nobody yet" },
                ...people.filter((x) => x.role !== "auditor").map((x) => ({ value: x.id, label: `${x.name}, ${x.role}` })),
              ]}
            />
          </Field>
        )}
      />
    </>
  );
}
