import { useQueryClient } from "@tanstack/react-query";
import { Controller, type UseFormReturn, useWatch } from "react-hook-form";
import { type Schemas, ask, client, Problem } from "../api/client";
import { useWords } from "../api/shop";
import { Entry, NumberField, PickField, TextField, TickField, useEntry } from "../kit/form";
import { Button, Tick } from "../kit/kit";
import { keys } from "../api/keys";

type Product = Schemas["Product"];

const fresh: Product = {
  id: "",
  name: "",
  class: "shampoo",
  reading: "parts plus parts",
  dwellMax: 0,
  costPerLitre: 0,
  ph: 7,
  cautions: "",
  coldWater: false,
  forbidsHot: false,
  sun: "",
};

const surfaces = ["paint", "glass", "fabric", "rim", "rubber", "liner", "metal"] as const;

/** A label as it is filled in: a ratio of nothing is a product used as it comes, and money is in whole units. */
interface Draft extends Omit<Product, "ratio" | "dwellMin" | "sheet"> {
  used: "neat" | "mixed";
  ratio: { product: number; water: number };
  dwellMin: number;
  sheet: string;
}

const asDraft = (p: Product): Draft => ({
  ...p,
  used: p.ratio ? "mixed" : "neat",
  ratio: p.ratio ?? { product: 1, water: 9 },
  costPerLitre: p.costPerLitre / 100,
  dwellMin: p.dwellMin ?? 0,
  sheet: p.sheet ?? "",
});

function asProduct({ used, ratio, ...d }: Draft, id: string): Product {
  return { ...d, id, costPerLitre: Math.round(d.costPerLitre * 100), ...(used === "mixed" && { ratio }) };
}

const shortName = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");

/** Where the server names a field of a product otherwise than the form. */
const at = Object.fromEntries(
  (["name", "class", "reading", "dwellMin", "dwellMax", "ph", "costPerLitre", "sheet", "cautions", "worksOn", "forbids"] as const).map(
    (key) => [`product.${key}`, key],
  ),
);

/** A product as its label has it. */
export function Label({ item, done }: { item?: Schemas["ShelfItem"]; done: () => void }) {
  const queries = useQueryClient();
  const classes = useWords().data?.lists.classes ?? [];
  const of = useEntry<Draft, Schemas["Shelf"]>({
    start: asDraft(item ? bare(item) : fresh),
    save: (draft) => {
      const id = item?.id ?? shortName(draft.name);
      return ask(client.PUT("/shelf/{id}", { params: { path: { id } }, body: { label: item?.label ?? 0, product: asProduct(draft, id) } }));
    },
    said: "Label saved.",
    at,
    onSaved: (next) => {
      queries.setQueryData(keys.shelf(), next);
      void queries.invalidateQueries({ queryKey: keys.plan() });
      done();
    },
  });
  const { form } = of;
  const used = useWatch({ control: form.control, name: "used" });
  const stale = of.saving.error instanceof Problem && of.saving.error.stale;
  const more = (
    <>
      <Button onClick={done}>Back</Button>
      {stale && <Button onClick={() => void queries.invalidateQueries({ queryKey: keys.shelf() })}>Show theirs</Button>}
    </>
  );
  return (
    <Entry of={of} act="Save the label" more={more} className="mb-3 grid gap-3 rounded-xl border-2 border-tide p-3">
      <div className="grid gap-3 md:grid-cols-3">
        <TextField
          form={form}
          name="name"
          label="Name"
          maxLength={80}
          rules={{ validate: (name) => shortName(String(name)) !== "" || "write it, with a letter or a digit" }}
        />
        <PickField form={form} name="class" label="Class" options={classes as Product["class"][]} />
        <PickField
          form={form}
          name="used"
          label="Used"
          options={[
            { value: "neat", label: "as it comes" },
            { value: "mixed", label: "mixed" },
          ]}
        />
        {used === "mixed" && (
          <>
            <NumberField form={form} name="ratio.product" label="Parts product" min={1} max={10_000} />
            <NumberField form={form} name="ratio.water" label="Parts water" min={1} max={100_000} />
            <PickField form={form} name="reading" label="Label reads" options={["parts plus parts", "one part in", "water first"]} />
          </>
        )}
        <NumberField form={form} name="dwellMin" label="Works from, s" min={0} max={7200} />
        <NumberField form={form} name="dwellMax" label="Works at most, s (0: not said)" min={0} max={7200} />
        <NumberField form={form} name="ph" label="pH as it comes" min={0} max={14} step={0.1} />
        <NumberField form={form} name="costPerLitre" label="Cost a litre" min={0} max={10_000} step={0.01} />
        <TextField form={form} name="sheet" label="Safety data sheet" maxLength={400} placeholder="folder or address" />
        <div className="grid content-end">
          <TickField form={form} name="coldWater" label="Wants cold water" />
          <TickField form={form} name="forbidsHot" label="Never on hot panels" />
          <PickField
            form={form}
            name="sun"
            label="In the sun"
            options={[
              { value: "", label: "allowed" },
              { value: "never in the sun", label: "never" },
            ]}
          />
        </div>
      </div>
      <div className="grid gap-3 md:grid-cols-2">
        <Surfaces form={form} name="worksOn" label="Made for (none ticked: any)" />
        <Surfaces form={form} name="forbids" label="Must not meet" />
      </div>
      <TextField form={form} name="cautions" label="Cautions on the label" maxLength={400} />
    </Entry>
  );
}

/** Several surfaces, ticked. */
function Surfaces({ form, name, label }: { form: UseFormReturn<Draft>; name: "worksOn" | "forbids"; label: string }) {
  return (
    <fieldset>
      <legend className="font-semibold">{label}</legend>
      <Controller
        control={form.control}
        name={name}
        render={({ field }) => (
          <div className="flex flex-wrap gap-x-4">
            {surfaces.map((s) => (
              <Tick
                key={s}
                label={s}
                on={field.value?.includes(s) ?? false}
                onChange={(on) => field.onChange(surfaces.filter((x) => (x === s ? on : (field.value?.includes(x) ?? false))))}
              />
            ))}
          </div>
        )}
      />
    </fieldset>
  );
}

/** The label alone, without what is counted. */
function bare(item: Schemas["ShelfItem"]): Product {
  const { readings, shop, stock, version, label, forecast, ...product } = item;
  void [readings, shop, stock, version, label, forecast];
  return product;
}
