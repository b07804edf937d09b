import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas, ask, client, Problem } from "../api/client";
import { useWords } from "../api/shop";
import { Button, Field, inputLook, Select, Tick, Trouble } from "../kit/kit";
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
};

const surfaces = ["paint", "glass", "fabric", "rim", "rubber", "liner", "metal"] as const;

/** A product as its label has it. */
export function Label({ item, done }: { item?: Schemas["ShelfItem"]; done: () => void }) {
  const queries = useQueryClient();
  const classes = useWords().data?.lists.classes ?? [];
  const [p, setP] = useState<Product>(() => (item ? bare(item) : fresh));
  const set = (next: Partial<Product>) => setP({ ...p, ...next });
  const id =
    item?.id ??
    p.name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-|-$/g, "");
  const save = useMutation({
    meta: { said: "Product saved." },
    mutationFn: () =>
      ask(client.PUT("/shelf/{id}", { params: { path: { id } }, body: { label: item?.label ?? 0, product: { ...p, id } } })),
    onSuccess: (next) => {
      queries.setQueryData(keys.shelf(), next);
      void queries.invalidateQueries({ queryKey: keys.plan() });
      done();
    },
  });
  const number = (label: string, value: number, put: (n: number) => void, step: number | "any" = "any") => (
    <Field label={label}>
      <input
        className={`${inputLook} num`}
        type="number"
        min={0}
        step={step}
        value={value}
        onChange={(e) => put(Math.max(0, Number(e.target.value)))}
      />
    </Field>
  );
  const list = (label: string, on: readonly string[] | undefined, put: (s: (typeof surfaces)[number][]) => void) => (
    <fieldset>
      <legend className="font-semibold">{label}</legend>
      <div className="flex flex-wrap gap-x-4">
        {surfaces.map((s) => (
          <Tick
            key={s}
            label={s}
            on={on?.includes(s) ?? false}
            onChange={(made) => put(surfaces.filter((x) => (x === s ? made : (on?.includes(x) ?? false))))}
          />
        ))}
      </div>
    </fieldset>
  );
  return (
    <form
      className="mb-3 grid gap-3 rounded-xl border-2 border-tide p-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (id) save.mutate();
      }}
    >
      <div className="grid gap-3 md:grid-cols-3">
        <Field label="Name">
          <input className={inputLook} value={p.name} required maxLength={80} onChange={(e) => set({ name: e.target.value })} />
        </Field>
        <Field label="Class">
          <Select value={p.class} onChange={(v) => set({ class: v })} options={classes as Product["class"][]} />
        </Field>
        <Field label="Used">
          <Select
            value={p.ratio ? "mixed" : "neat"}
            onChange={(v) => (v === "mixed" ? set({ ratio: { product: 1, water: 9 } }) : setP(neat(p)))}
            options={[
              { value: "neat", label: "as it comes" },
              { value: "mixed", label: "mixed" },
            ]}
          />
        </Field>
        {p.ratio && (
          <>
            {number(
              "Parts product",
              p.ratio.product,
              (n) => p.ratio && set({ ratio: { ...p.ratio, product: Math.max(1, Math.round(n)) } }),
              1,
            )}
            {number("Parts water", p.ratio.water, (n) => p.ratio && set({ ratio: { ...p.ratio, water: Math.max(1, Math.round(n)) } }), 1)}
            <Field label="Label reads">
              <Select
                value={p.reading}
                onChange={(reading) => set({ reading })}
                options={["parts plus parts", "one part in", "water first"] as const}
              />
            </Field>
          </>
        )}
        {number("Works from, s", p.dwellMin ?? 0, (dwellMin) => set({ dwellMin: Math.round(dwellMin) }), 1)}
        {number("Works at most, s (0: not said)", p.dwellMax, (dwellMax) => set({ dwellMax: Math.round(dwellMax) }), 1)}
        {number("pH as it comes", p.ph, (ph) => set({ ph: Math.min(14, ph) }))}
        {number("Cost a litre", p.costPerLitre / 100, (n) => set({ costPerLitre: Math.round(n * 100) }))}
        <Field label="Safety data sheet">
          <input
            className={inputLook}
            value={p.sheet ?? ""}
            maxLength={400}
            placeholder="folder or address"
            onChange={(e) => set({ sheet: e.target.value })}
          />
        </Field>
        <div className="grid content-end">
          <Tick label="Wants cold water" on={p.coldWater} onChange={(on) => set({ coldWater: on })} />
          <Tick label="Never on hot panels" on={p.forbidsHot} onChange={(on) => set({ forbidsHot: on })} />
        </div>
      </div>
      <div className="grid gap-3 md:grid-cols-2">
        {list("Made for (none ticked: any)", p.worksOn, (worksOn) => set({ worksOn }))}
        {list("Must not meet", p.forbids, (forbids) => set({ forbids }))}
      </div>
      <Field label="Cautions on the label">
        <input className={inputLook} value={p.cautions} maxLength={400} onChange={(e) => set({ cautions: e.target.value })} />
      </Field>
      {save.error && <Trouble error={save.error} />}
      <div className="flex gap-2">
        <Button onClick={done}>Back</Button>
        <Button look="act" type="submit" disabled={!id || save.isPending}>
          Save the label
        </Button>
        {save.error instanceof Problem && save.error.stale && (
          <Button onClick={() => void queries.invalidateQueries({ queryKey: keys.shelf() })}>Show theirs</Button>
        )}
      </div>
    </form>
  );
}

/** The label alone, without what is counted. */
function bare(item: Schemas["ShelfItem"]): Product {
  const { readings, shop, stock, version, label, forecast, ...product } = item;
  void [readings, shop, stock, version, label, forecast];
  return product;
}

const neat = (p: Product): Product => Object.fromEntries(Object.entries(p).filter(([key]) => key !== "ratio")) as unknown as Product;
