import { useMutation, useQueryClient } from "@tanstack/react-query";
import { NavLink, useParams } from "react-router";
import { People } from "./People";
import { Readings } from "./Readings";
import { You } from "./You";
import { type FormEvent, useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { useMay, useSettings } from "../api/shop";
import { Pins } from "../kit/Pins";
import { Machines, Shifts } from "./Crew";
import { Button, Choice, Field, Head, inputLook, Loading, Panel, Select, Table, Tick, Trouble } from "../kit/kit";
import { keys } from "../api/keys";

const parts = [
  { to: "", label: "Shop", right: "see" },
  { to: "you", label: "You", right: "see" },
  { to: "people", label: "People", right: "keep people" },
  { to: "readings", label: "Weather and water", right: "see" },
] as const;

export function Settings() {
  const { part = "" } = useParams();
  const may = useMay();
  return (
    <>
      <Head title="Settings" />
      <nav aria-label="Parts of the settings" className="mb-4 flex flex-wrap gap-2">
        {parts
          .filter((p) => may(p.right))
          .map((p) => (
            <NavLink
              key={p.to}
              to={`/settings${p.to && `/${p.to}`}`}
              end
              className={({ isActive }) =>
                `inline-flex min-h-hit items-center rounded-xl border-2 px-4 ${isActive ? "border-tide bg-tide-wash font-semibold" : "border-line bg-paper hover:border-ink"}`
              }
            >
              {p.label}
            </NavLink>
          ))}
      </nav>
      {part === "you" ? <You /> : part === "people" ? <People /> : part === "readings" ? <Readings /> : <Shop />}
    </>
  );
}

function Shop() {
  const settings = useSettings();
  const may = useMay();
  if (settings.isPending) return <Loading what="the settings" />;
  if (!settings.data) return <Trouble error={settings.error} retry={() => void settings.refetch()} />;
  return (
    <div className="grid max-w-4xl gap-4">
      <ShopForm key={settings.data.version} view={settings.data} editable={may("change settings")} />
      {may("export") && (
        <Panel title="Take the records away">
          <p className="mb-3">All of the shop’s records as tables (CSV in a ZIP file), without passwords. For a backup see uskel backup.</p>
          <a
            href="/api/export"
            className="inline-flex min-h-hit items-center rounded-xl border-2 border-line bg-paper px-4 font-semibold hover:border-ink"
          >
            Export everything
          </a>
        </Panel>
      )}
    </div>
  );
}

function ShopForm({ view, editable }: { view: Schemas["SettingsView"]; editable: boolean }) {
  const [shop, setShop] = useState(view.settings);
  const queries = useQueryClient();
  const save = useMutation({
    meta: { said: "Settings saved." },
    mutationFn: () => ask(client.PUT("/settings", { body: { version: view.version, settings: shop } })),
    onSuccess: (next) => {
      queries.setQueryData(keys.settings(), next);
      void queries.invalidateQueries({ queryKey: keys.me() });
    },
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <Panel title="The shop">
      <form onSubmit={submit} className="grid gap-3">
        <fieldset disabled={!editable} className="grid gap-3">
          <Field label="Name">
            <input
              className={inputLook}
              value={shop.shopName}
              maxLength={80}
              required
              onChange={(e) => setShop({ ...shop, shopName: e.target.value })}
            />
          </Field>
          <Choice
            label="Units"
            value={shop.units}
            onChange={(units) => setShop({ ...shop, units })}
            options={[
              { value: "metric", label: "Metric" },
              { value: "us", label: "US" },
            ]}
          />
          <Choice
            label="Mixing ratios are written as"
            value={shop.ratio ?? "parts plus parts"}
            onChange={(ratio) => setShop({ ...shop, ratio })}
            options={[
              { value: "parts plus parts", label: "1 + 9" },
              { value: "one part in", label: "1 in 10" },
              { value: "water first", label: "9:1, water first" },
            ]}
          />
          <Field label="Currency sign">
            <input
              className={inputLook}
              value={shop.currency}
              maxLength={8}
              required
              onChange={(e) => setShop({ ...shop, currency: e.target.value })}
            />
          </Field>
          <Field label="Time zone" hint="Where the shop stands: its clock is shown on every screen">
            <input
              className={inputLook}
              value={shop.timeZone}
              list="zones"
              maxLength={60}
              required
              onChange={(e) => setShop({ ...shop, timeZone: e.target.value })}
            />
            <datalist id="zones">
              {["UTC", ...Intl.supportedValuesOf("timeZone")].map((z) => (
                <option key={z} value={z} />
              ))}
            </datalist>
          </Field>
          <Pins pins={shop.pins ?? {}} onChange={(pins) => setShop({ ...shop, pins })} where="by the condition" />
          <Vessels vessels={shop.vessels ?? []} onChange={(vessels) => setShop({ ...shop, vessels })} />
          <Machines machines={shop.machines ?? []} onChange={(machines) => setShop({ ...shop, machines })} />
          <Shifts shifts={shop.shifts ?? []} onChange={(shifts) => setShop({ ...shop, shifts })} />
          <Field label="An hour of work costs" hint={`In ${shop.currency}, for the costs of a plan`}>
            <input
              className={`${inputLook} num`}
              type="number"
              min={0}
              step="0.01"
              value={(shop.labour ?? 0) / 100}
              onChange={(e) => setShop({ ...shop, labour: Math.max(0, Math.round(Number(e.target.value) * 100)) })}
            />
          </Field>
          <Prices shop={shop} onChange={(prices) => setShop({ ...shop, prices })} />
          <Field label="A shared tablet locks after, minutes without a touch" hint="10 when left empty">
            <input
              className={`${inputLook} num`}
              type="number"
              min={1}
              max={120}
              value={shop.lockMinutes || ""}
              onChange={(e) => setShop({ ...shop, lockMinutes: Math.round(Number(e.target.value)) })}
            />
          </Field>
          <Field label="Latitude, about" hint="Degrees north, south with a minus, for the sun; 45 when left empty">
            <input
              className={`${inputLook} num`}
              type="number"
              min={-70}
              max={70}
              step="0.1"
              value={shop.latitude ?? ""}
              onChange={(e) => {
                const next = { ...shop, latitude: Number(e.target.value) };
                if (e.target.value === "") delete (next as Partial<typeof next>).latitude;
                setShop(next);
              }}
            />
          </Field>
          <Field
            label="Allowances on standard times, %"
            hint="For rest and needs: standard = observed × rating × (1 + allowances). Left empty, it is what the tapped pauses were."
          >
            <input
              className={`${inputLook} num`}
              type="number"
              min={0}
              max={60}
              value={shop.rest ?? ""}
              onChange={(e) => {
                const next = { ...shop, rest: Math.round(Number(e.target.value)) };
                if (e.target.value === "") delete (next as Partial<typeof next>).rest;
                setShop(next);
              }}
            />
          </Field>
          <Places places={shop.places} onChange={(places) => setShop({ ...shop, places })} />
        </fieldset>
        {save.error && <Trouble error={save.error} />}
        {editable ? (
          <Button look="act" type="submit" disabled={save.isPending} className="justify-self-start">
            Save
          </Button>
        ) : (
          <p className="text-faded">The lead changes these.</p>
        )}
      </form>
    </Panel>
  );
}

const services: readonly Schemas["Service"][] = ["basic", "signature"];

/** What the services cost the customer. */
function Prices({ shop, onChange }: { shop: Schemas["Settings"]; onChange: (p: Schemas["Price"][]) => void }) {
  const prices = shop.prices ?? [];
  const set = (service: Schemas["Service"], text: string) => {
    const rest = prices.filter((p) => p.service !== service);
    onChange(text === "" ? rest : [...rest, { service, amount: Math.max(0, Math.round(Number(text) * 100)) }]);
  };
  return (
    <div className="grid gap-3 sm:grid-cols-2">
      {services.map((s) => {
        const price = prices.find((p) => p.service === s);
        return (
          <Field key={s} label={`${s.charAt(0).toUpperCase()}${s.slice(1)} costs, ${shop.currency}`}>
            <input
              className={`${inputLook} num`}
              type="number"
              min={0}
              step="0.01"
              value={price ? price.amount / 100 : ""}
              onChange={(e) => set(s, e.target.value)}
            />
          </Field>
        );
      })}
    </div>
  );
}

type Vessel = Schemas["Vessel"];

/** What mixes are made in, and how much each holds to its line. */
function Vessels({ vessels, onChange }: { vessels: Vessel[]; onChange: (v: Vessel[]) => void }) {
  const set = (i: number, change: Partial<Vessel>) => onChange(vessels.map((v, j) => (j === i ? { ...v, ...change } : v)));
  return (
    <div>
      <p className="font-semibold">Vessels</p>
      <Table stacks caption="Vessels" head={["Name", "Kind", "Holds to its line, a capful or a stroke, ml", ""]}>
        {vessels.map((v, i) => (
          <tr key={i}>
            <td data-head="Name">
              <input
                aria-label="Name of the vessel"
                className={inputLook}
                value={v.name}
                maxLength={60}
                required
                onChange={(e) => set(i, { name: e.target.value })}
              />
            </td>
            <td data-head="Kind">
              <Select
                label="Kind of vessel"
                value={v.kind}
                onChange={(kind) => set(i, { kind })}
                options={["bucket", "foam bottle", "sprayer", "cap", "pump"] as const}
              />
            </td>
            <td data-head="Holds, ml">
              <input
                aria-label="Holds, ml"
                className={`${inputLook} num`}
                type="number"
                min={1}
                value={v.holds}
                onChange={(e) => set(i, { holds: Math.max(0, Number(e.target.value)) })}
              />
            </td>
            <td>
              <Button onClick={() => onChange(vessels.filter((_, j) => j !== i))}>Remove</Button>
            </td>
          </tr>
        ))}
      </Table>
      <Button className="mt-2" onClick={() => onChange([...vessels, { name: "", kind: "sprayer", holds: 1000 }])}>
        Add a vessel
      </Button>
    </div>
  );
}

type Place = Schemas["Place"];

/** Where the shop washes: what each place gives decides which procedures may be used there. */
function Places({ places, onChange }: { places: Place[]; onChange: (p: Place[]) => void }) {
  const set = (i: number, change: Partial<Place>) => onChange(places.map((p, j) => (j === i ? { ...p, ...change } : p)));
  return (
    <div>
      <p className="font-semibold">Places</p>
      <Table stacks caption="Places" head={["Name", "Cover", "Water", "May run off", "Blower", "Nose points to", ""]}>
        {places.map((p, i) => (
          <tr key={i}>
            <td data-head="Name">
              <input
                aria-label="Name of the place"
                className={inputLook}
                value={p.name}
                maxLength={80}
                required
                onChange={(e) => set(i, { name: e.target.value })}
              />
            </td>
            <td data-head="Cover">
              <Select
                label="Cover"
                value={p.cover}
                onChange={(cover) => set(i, { cover })}
                options={["open sky", "shade", "indoors"] as const}
              />
            </td>
            <td data-head="Water">
              <Select
                label="Water supply"
                value={p.supply}
                onChange={(supply) => set(i, { supply })}
                options={["pressure washer", "hose", "carried water"] as const}
              />
            </td>
            <td data-head="May run off" className="sm:text-center">
              <Tick
                wordless
                label="Wash water may run off"
                on={p.runoff}
                onChange={(runoff) => set(i, { runoff })}
                className="sm:justify-center"
              />
            </td>
            <td data-head="Blower" className="sm:text-center">
              <Tick
                wordless
                label="A blower may be used"
                on={p.blower}
                onChange={(blower) => set(i, { blower })}
                className="sm:justify-center"
              />
            </td>
            <td data-head="Nose points to, °">
              <input
                aria-label="Nose points to, degrees from north"
                className={`${inputLook} num w-24!`}
                type="number"
                min={0}
                max={360}
                value={p.heading}
                onChange={(e) => set(i, { heading: Math.min(360, Math.max(0, Number(e.target.value))) })}
              />
            </td>
            <td>
              <Button disabled={places.length === 1} onClick={() => onChange(places.filter((_, j) => j !== i))}>
                Remove
              </Button>
            </td>
          </tr>
        ))}
      </Table>
      <Button
        className="mt-2"
        onClick={() => onChange([...places, { name: "", cover: "shade", supply: "hose", runoff: false, blower: true, heading: 0 }])}
      >
        Add a place
      </Button>
      <p className="mt-1 text-sm text-faded">
        Degrees from north: 0 north, 90 east. Local rules on drains decide whether water may run off.
      </p>
    </div>
  );
}
