import { AlertTriangle } from "lucide-react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { useMe, useSettings } from "../api/shop";
import { useQuantities } from "../kit/format";
import { Choice, Field, Panel, Select, Trouble } from "../kit/kit";
import { Count, Num } from "../kit/number";
import { useDebounced } from "../kit/form";
import { Ratio } from "../kit/ratio";
import { keys } from "../api/keys";

type Unit = Schemas["Amount"]["unit"];
type Amount = Schemas["Amount"];
type Numbers = Schemas["Printed"];

const units: readonly Unit[] = ["ml", "l", "US fl oz", "US gal", "imp fl oz", "imp gal"];
const readings = [
  { value: "parts plus parts", label: "Parts + parts" },
  { value: "one part in", label: "One part in" },
  { value: "water first", label: "Water first" },
] as const;

const questions = [
  { value: "pour", label: "How much?" },
  { value: "made", label: "What did I make?" },
  { value: "panel", label: "On the paint?" },
  { value: "strength", label: "Other strength" },
  { value: "water", label: "The water" },
] as const;

/** The mixing bench: each question a lead works out on the back of a hand. */
export function Bench({ products }: { products: Schemas["ShelfItem"][] }) {
  const [question, setQuestion] = useState<(typeof questions)[number]["value"]>("pour");
  return (
    <Panel title="Mixing bench">
      <div className="grid gap-3">
        <Choice label="What do you want to know?" value={question} onChange={setQuestion} options={questions} />
        {question === "pour" && <Pour products={products} />}
        {question === "made" && <Made />}
        {question === "panel" && <OnPaint />}
        {question === "strength" && <Restrength />}
        {question === "water" && <Water />}
        <p className="text-sm text-faded">The label and its safety sheet come first. Never mix products in one vessel.</p>
      </div>
    </Panel>
  );
}

function AmountField({ label, value, onChange }: { label: string; value: Amount; onChange: (a: Amount) => void }) {
  return (
    <Field label={label}>
      <span className="grid grid-cols-[1fr_7rem] gap-2">
        <Count value={value.amount} onChange={(amount) => onChange({ ...value, amount })} />
        <Select label={`${label}: unit`} value={value.unit} options={units} onChange={(unit) => onChange({ ...value, unit })} />
      </span>
    </Field>
  );
}

function Printed({ label, value, onChange }: { label: string; value: Numbers; onChange: (p: Numbers) => void }) {
  const number = (key: "first" | "second") => (
    <Count whole aria-label={`${label}: ${key} number`} value={value[key]} onChange={(n) => onChange({ ...value, [key]: n })} />
  );
  return (
    <div>
      <p className="mb-1 font-semibold">{label}</p>
      <div className="grid grid-cols-[1fr_auto_1fr] items-center gap-2">
        {number("first")}
        <b>:</b>
        {number("second")}
      </div>
      <div className="mt-2">
        <Choice label="Which means" value={value.reading} onChange={(reading) => onChange({ ...value, reading })} options={readings} />
      </div>
    </div>
  );
}

function Answer({ children, error }: { children: ReactNode; error: unknown }) {
  if (error) return <Trouble error={error} />;
  return (
    <div className="grid gap-2 rounded-xl bg-tide-wash p-3" aria-live="polite">
      {children}
    </div>
  );
}

const Big = ({ value, label }: { value: string; label: string }) => (
  <p>
    <b className="num text-2xl">{value}</b> <span>{label}</span>
  </p>
);

/** Asks again whenever the question changes, quietly. */
function useBench<Q, A>(name: string, q: Q, ask: (q: Q) => Promise<A>) {
  const later = useDebounced(q);
  return useQuery({
    queryKey: keys.bench(name, later),
    queryFn: () => ask(later),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

function Pour({ products }: { products: Schemas["ShelfItem"][] }) {
  const q = useQuantities();
  const us = useMe().data?.units === "us";
  const vessels = useSettings().data?.settings.vessels ?? [];
  const [ratio, setRatio] = useState<Numbers>({ first: 1, second: 10, reading: "parts plus parts" });
  const [vessel, setVessel] = useState<Amount>(us ? { amount: 32, unit: "US fl oz" } : { amount: 1, unit: "l" });
  const [productId, setProductId] = useState("");
  const mix = useBench("pour", { ...ratio, ...vessel, productId }, (body) => ask(client.POST("/mix", { body })));
  const mixed = products.filter((p) => p.ratio);
  const take = (id: string) => {
    setProductId(id);
    const p = mixed.find((x) => x.id === id);
    if (!p?.ratio) return;
    const { product, water } = p.ratio;
    const [first, second] =
      p.reading === "water first" ? [water, product] : p.reading === "one part in" ? [product, product + water] : [product, water];
    setRatio({ first, second, reading: p.reading });
  };
  return (
    <>
      <Field label="Product">
        <Select
          value={productId}
          onChange={take}
          options={[{ value: "", label: "none of the shelf's" }, ...mixed.map((p) => ({ value: p.id, label: p.name }))]}
        />
      </Field>
      <Printed label="As printed" value={ratio} onChange={setRatio} />
      {vessels.length > 0 && (
        <Field label="Vessel in hand">
          <Select
            value=""
            onChange={(name) => {
              const v = vessels.find((x) => x.name === name);
              if (v)
                setVessel(us ? { amount: Math.round(v.holds / 0.295735295625) / 100, unit: "US fl oz" } : { amount: v.holds, unit: "ml" });
            }}
            options={[
              { value: "", label: "one of the shop's" },
              ...vessels
                .filter((v) => v.kind !== "cap" && v.kind !== "pump")
                .map((v) => ({ value: v.name, label: `${v.name}, ${q.volume(v.holds)}` })),
            ]}
          />
        </Field>
      )}
      <AmountField label="Vessel holds" value={vessel} onChange={setVessel} />
      <Answer error={mix.error}>
        {mix.data && (
          <>
            <Big value={q.volume(mix.data.product)} label="product" />
            <Big value={q.volume(mix.data.water)} label="water" />
            <Ratio readings={mix.data.readings} />
            {mix.data.doubt && (
              <p className="flex items-start gap-2 font-semibold text-rust">
                <AlertTriangle size={19} className="mt-0.5 shrink-0" aria-hidden /> {mix.data.doubt}
              </p>
            )}
            <p>
              Vessel already full of water: pour {q.volume(mix.data.product)} out and as much product in. That much water in a larger
              vessel: add {q.volume(mix.data.toWater)}.
            </p>
            {mix.data.misread.map((m) => (
              <p key={m.reading} className="text-sm">
                Read as “{m.reading}” it would be {q.volume(m.product)}: <b>{m.times.toPrecision(3)} times as strong.</b>
              </p>
            ))}
          </>
        )}
      </Answer>
    </>
  );
}

function Made() {
  const [product, setProduct] = useState<Amount>({ amount: 2, unit: "US fl oz" });
  const [water, setWater] = useState<Amount>({ amount: 18, unit: "US fl oz" });
  const made = useBench("made", { product, water }, (body) => ask(client.POST("/mix-made", { body })));
  return (
    <>
      <AmountField label="Product poured" value={product} onChange={setProduct} />
      <AmountField label="Into water" value={water} onChange={setWater} />
      <Answer error={made.error}>
        {made.data && (
          <>
            <Ratio readings={made.data} label="is what was made" />
          </>
        )}
      </Answer>
    </>
  );
}

function OnPaint() {
  const q = useQuantities();
  const [product, setProduct] = useState<Amount>({ amount: 100, unit: "ml" });
  const [water, setWater] = useState<Amount>({ amount: 900, unit: "ml" });
  const [flow, setFlow] = useState(4.5);
  const [emptying, setEmptying] = useState(120);
  const lands = useBench("panel", { product, water, flow, emptying }, (body) => ask(client.POST("/mix-on-panel", { body })));
  return (
    <>
      <AmountField label="Product in the bottle" value={product} onChange={setProduct} />
      <AmountField label="Water in the bottle" value={water} onChange={setWater} />
      <div className="grid grid-cols-2 gap-3">
        <Field label="Flow, l/min">
          <Count value={flow} onChange={setFlow} />
        </Field>
        <Field label="Empties in, s">
          <Count value={emptying} onChange={setEmptying} />
        </Field>
      </div>
      <Answer error={lands.error}>
        {lands.data && (
          <>
            <Ratio readings={lands.data.onPanel} label="lands on the paint" />
            <p className="text-sm">The bottle alone is {q.ratio(lands.data.bottle)}: the stream thins it.</p>
          </>
        )}
      </Answer>
    </>
  );
}

function Restrength() {
  const q = useQuantities();
  const [have, setHave] = useState<Numbers>({ first: 1, second: 10, reading: "one part in" });
  const [want, setWant] = useState<Numbers>({ first: 1, second: 5, reading: "one part in" });
  const [amount, setAmount] = useState<Amount>({ amount: 1, unit: "l" });
  const [room, setRoom] = useState<Amount>({ amount: 0, unit: "l" });
  const change = useBench("strength", { have, want, amount, ...(room.amount > 0 ? { room } : {}) }, (body) =>
    ask(client.POST("/mix-restrength", { body })),
  );
  return (
    <>
      <Printed label="It is" value={have} onChange={setHave} />
      <Printed label="It is to be" value={want} onChange={setWant} />
      <AmountField label="There is" value={amount} onChange={setAmount} />
      <AmountField label="Vessel holds (0 for room enough)" value={room} onChange={setRoom} />
      <Answer error={change.error}>
        {change.data && (
          <>
            {change.data.pourOut > 0 && <Big value={q.volume(change.data.pourOut)} label="out first" />}
            {change.data.product > 0 && <Big value={q.volume(change.data.product)} label="product in" />}
            {change.data.water > 0 && <Big value={q.volume(change.data.water)} label="water in" />}
            <p>That makes {q.volume(change.data.makes)}.</p>
          </>
        )}
      </Answer>
    </>
  );
}

const hardnessUnits = ["mg/l CaCO3", "grains per US gal", "German degrees", "French degrees", "English degrees", "mmol/l"] as const;

function Water() {
  const [unit, setUnit] = useState<Schemas["HardnessUnit"]>("mg/l CaCO3");
  const [hardness, setHardness] = useState<number>();
  const [capacity, setCapacity] = useState(1000);
  const [used, setUsed] = useState(500);
  const [aWash, setAWash] = useState(20);
  const water = useBench("water", { unit, capacity, used, aWash, ...(hardness !== undefined && { hardness }) }, (body) =>
    ask(client.POST("/mix-water", { body })),
  );
  const number = (label: string, value: number, set: (n: number) => void) => (
    <Field label={label}>
      <Count value={value} onChange={set} />
    </Field>
  );
  return (
    <>
      <Field label="Hardness" hint="Empty: what the meter reads now">
        <span className="grid grid-cols-[1fr_10rem] gap-2">
          <Num min={0} value={hardness} onChange={setHardness} />
          <Select label="Hardness: unit" value={unit} options={hardnessUnits} onChange={setUnit} />
        </span>
      </Field>
      <div className="grid grid-cols-3 gap-2">
        {number("Cartridge, g", capacity, setCapacity)}
        {number("Run, l", used, setUsed)}
        {number("A wash, l", aWash, setAWash)}
      </div>
      <Answer error={water.error}>
        {water.data && (
          <>
            <Big value={`${water.data.residue} mg`} label="of minerals left if a mid-size car dries by itself" />
            {water.data.washes !== undefined && <Big value={String(water.data.washes)} label="washes left in the cartridge" />}
            <p>It is {water.data.class} water (U.S. Geological Survey).</p>
            <ul className="text-sm">
              {Object.entries(water.data.units).map(([name, n]) => (
                <li key={name}>
                  <span className="num">{n}</span> {name}
                </li>
              ))}
            </ul>
          </>
        )}
      </Answer>
    </>
  );
}
