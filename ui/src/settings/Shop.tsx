import { useQueryClient } from "@tanstack/react-query";
import { type ReactNode } from "react";
import { Controller, type FieldPath, type UseFormReturn, useWatch } from "react-hook-form";
import { type Schemas, ask, client } from "../api/client";
import { useMay, useSettings } from "../api/shop";
import { keys } from "../api/keys";
import { ChoiceField, Entry, NumberField, TextField, useEntry } from "../kit/form";
import { Loading, Panel, Trouble } from "../kit/kit";
import { Pins } from "../kit/Pins";
import { Machines, Shifts } from "./Crew";
import { asDraft, asSettings, type Draft, nameOf } from "./draft";
import { Places, Vessels } from "./Places";
import { Services } from "./Services";

export type ShopForm = UseFormReturn<Draft>;

/** What the shop is and has, and how it does things. */
export function Shop() {
  const settings = useSettings();
  const may = useMay();
  if (settings.isPending) return <Loading what="the settings" />;
  if (!settings.data) return <Trouble error={settings.error} retry={() => void settings.refetch()} />;
  return (
    <div className="grid gap-4">
      <ShopEntry key={settings.data.version} view={settings.data} editable={may("change settings")} />
      {may("export") && (
        <Panel title="Export the records">
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

function ShopEntry({ view, editable }: { view: Schemas["SettingsView"]; editable: boolean }) {
  const queries = useQueryClient();
  const of = useEntry<Draft, Schemas["SettingsView"]>({
    start: asDraft(view.settings),
    save: (draft) => ask(client.PUT("/settings", { body: { version: view.version, settings: asSettings(draft) } })),
    said: "Settings saved.",
    at: nameOf as (location: string) => FieldPath<Draft>,
    onSaved: (next) => {
      queries.setQueryData(keys.settings(), next);
      void queries.invalidateQueries({ queryKey: keys.me() });
    },
  });
  const { form } = of;
  const parts = (
    <fieldset disabled={!editable} className="grid items-start gap-4 xl:grid-cols-2">
      <div className="grid gap-4">
        <Named form={form} />
        <Money form={form} />
        <Rest form={form} />
      </div>
      <div className="grid gap-4">
        <Panel>
          <Controller
            control={form.control}
            name="pins"
            render={({ field }) => <Pins pins={field.value} onChange={field.onChange} where="by the condition" />}
          />
        </Panel>
        <Vessels form={form} />
        <Machines form={form} />
      </div>
      <Wide>
        <Services form={form} />
      </Wide>
      <Wide>
        <Places form={form} />
      </Wide>
      <Wide>
        <Shifts form={form} />
      </Wide>
    </fieldset>
  );
  if (!editable)
    return (
      <>
        {parts}
        <p className="text-faded">The lead changes these.</p>
      </>
    );
  return (
    <Entry of={of} act="Save" className="grid gap-4" label="The shop">
      {parts}
    </Entry>
  );
}

const Wide = ({ children }: { children: ReactNode }) => <div className="min-w-0 xl:col-span-2">{children}</div>;

function Named({ form }: { form: ShopForm }) {
  return (
    <Panel title="The shop">
      <div className="grid gap-3">
        <TextField form={form} name="shopName" label="Name" maxLength={80} rules={{ required: "write it" }} />
        <ChoiceField
          form={form}
          name="units"
          label="Units"
          options={[
            { value: "metric", label: "Metric" },
            { value: "us", label: "US" },
          ]}
        />
        <ChoiceField
          form={form}
          name="ratio"
          label="Mixing ratios are written as"
          options={[
            { value: "parts plus parts", label: "1 + 9" },
            { value: "one part in", label: "1 in 10" },
            { value: "water first", label: "9:1, water first" },
          ]}
        />
        <TextField
          form={form}
          name="timeZone"
          label="Time zone"
          hint="Where the shop stands: its clock is shown on every screen"
          list="zones"
          maxLength={60}
          rules={{ required: "choose one" }}
        />
        <datalist id="zones">
          {["UTC", ...Intl.supportedValuesOf("timeZone")].map((z) => (
            <option key={z} value={z} />
          ))}
        </datalist>
        <NumberField
          form={form}
          name="latitude"
          label="Latitude, about"
          hint="Degrees north, south with a minus, for the sun; leave empty for 45"
          min={-70}
          max={70}
          step={0.1}
          optional
        />
      </div>
    </Panel>
  );
}

function Money({ form }: { form: ShopForm }) {
  const currency = useWatch({ control: form.control, name: "currency" });
  return (
    <Panel title="Money">
      <div className="grid gap-3 sm:grid-cols-2">
        <TextField form={form} name="currency" label="Currency sign" maxLength={8} rules={{ required: "write one" }} />
        <NumberField
          form={form}
          name="labour"
          label="An hour of work costs"
          hint={`In ${currency}, for the costs of a plan`}
          min={0}
          max={100_000}
          step={0.01}
        />
        <NumberField form={form} name="launder" label="Laundering a cloth costs" min={0} max={1_000} step={0.01} />
        <NumberField form={form} name="water" label="A cubic metre of water costs" hint="With the drain" min={0} max={10_000} step={0.01} />
      </div>
    </Panel>
  );
}

function Rest({ form }: { form: ShopForm }) {
  return (
    <Panel title="Times, paint and tablets">
      <div className="grid gap-3 sm:grid-cols-2">
        <NumberField
          form={form}
          name="rinseBuckets"
          label="Rinse buckets with a guard"
          hint="Two people who wash a side each share one, or have one each"
          min={1}
          max={10}
          optional
        />
        <NumberField
          form={form}
          name="signOffMonths"
          label="A sign-off lapses after, months"
          hint="Then somebody signed off stands beside again; never when empty"
          min={1}
          max={60}
          optional
        />
        <NumberField
          form={form}
          name="signOffFindings"
          label="Or after so many findings in 30 days"
          hint="Of that skill, in audits of whoever was signed off; never when empty"
          min={1}
          max={20}
          optional
        />
        <NumberField
          form={form}
          name="auditShare"
          label="Finished washes drawn to be audited, %"
          hint="By chance; 100 when empty. What is always audited comes on top"
          min={0}
          max={100}
          optional
        />
        <NumberField
          form={form}
          name="auditTrainee"
          label="First washes of a trainee always audited"
          hint="10 when empty"
          min={0}
          max={100}
          optional
        />
        <NumberField
          form={form}
          name="auditVersion"
          label="First washes by a new version, or with a new product, always audited"
          hint="5 when empty"
          min={0}
          max={100}
          optional
        />
        <NumberField
          form={form}
          name="evidenceHalfLife"
          label="Evidence of a skill counts half after, days"
          hint="Cases, drills, watched washes and audits; 60 when empty"
          min={7}
          max={365}
          optional
        />
        <NumberField
          form={form}
          name="rest"
          label="Allowances on standard times, %"
          hint="For rest and needs: standard = observed × rating × (1 + allowances). Leave it empty to use the pauses that were tapped."
          min={0}
          max={60}
          optional
        />
        <NumberField
          form={form}
          name="aim"
          label="Scratch risk that plans stay under, of 100"
          hint="Empty for 20. Lower asks for more rinses of the mitt."
          min={5}
          max={60}
          optional
        />
        <NumberField
          form={form}
          name="lockMinutes"
          label="A shared tablet locks after, minutes without a touch"
          hint="Empty for 10"
          min={1}
          max={120}
          optional
        />
      </div>
    </Panel>
  );
}
