import { clock } from "../offline/queue";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type DefaultValues, type FieldPath, type FieldValues, useWatch } from "react-hook-form";
import { ask, client, type Schemas } from "../api/client";
import { useMay, useMe } from "../api/shop";
import { ChoiceField, Entry, NumberField, PickField, useEntry } from "../kit/form";
import { day, hour, useQuantities } from "../kit/format";
import { Empty, Loading, Panel, Trouble } from "../kit/kit";
import { keys, stale } from "../api/keys";

type Told = Schemas["ReadingTold"];

/** Weather and water as they are known, where that came from, and typing them in. */
export function Readings() {
  const view = useQuery({ queryKey: keys.readings(), queryFn: () => ask(client.GET("/readings")) });
  const me = useMe().data;
  const may = useMay();
  const q = useQuantities();
  if (view.isPending) return <Loading what="weather and water" />;
  if (view.error) return <Trouble error={view.error} retry={() => void view.refetch()} />;
  const { weather, weatherFrom, water, waterFrom, told } = view.data;
  return (
    <div className="grid items-start gap-4 lg:grid-cols-2">
      <Panel title="As it is known now">
        <p>
          <b>Weather:</b> {q.temp(weather.temp)}, {Math.round(weather.rh * 100)} %, wind {q.speed(weather.wind)}
          {weather.rain > 0 && `, rain ${weather.rain} mm/h`}. <span className="text-faded">{said(weatherFrom)}</span>
        </p>
        <p className="mt-1">
          <b>Water:</b> {Math.round(water.hardness)} mg/l, {water.class}. <span className="text-faded">{said(waterFrom)}</span>
        </p>
        {me?.demo && <p className="mt-3 font-semibold">The demo’s instruments are simulated: what you enter here is saved but not used.</p>}
        <h3 className="mt-4 mb-1 font-semibold">Last readings</h3>
        {told.length === 0 ? <Empty>No readings yet.</Empty> : <Lines told={told} />}
      </Panel>
      {may("look over") && (
        <div className="grid gap-4">
          <WeatherForm />
          <WaterForm />
        </div>
      )}
    </div>
  );
}

/** Where something came from, as a sentence. */
export /** What a reading told, without what its instrument knows nothing of. */
function heard(q: ReturnType<typeof useQuantities>, r: NonNullable<Schemas["ReadingLine"]["weather"]>) {
  const parts: [Schemas["ReadingPart"], string][] = [
    ["temp", q.temp(r.temp)],
    ["rh", `${Math.round(r.rh * 100)} %`],
    ["wind", q.speed(r.wind)],
    ["sky", r.sky ?? ""],
  ];
  return parts
    .filter(([part]) => !r.lacks?.includes(part))
    .map(([, text]) => text)
    .concat(r.rain ? [`rain ${r.rain} mm/h`] : [])
    .join(", ");
}

const said = (from: Schemas["From"]) =>
  `${from.says.charAt(0).toUpperCase()}${from.says.slice(1)}${from.at ? `, ${day(from.at)} ${hour(from.at)}` : ""}.`;

function Lines({ told }: { told: Schemas["ReadingLine"][] }) {
  const q = useQuantities();
  return (
    <ul className="grid gap-1.5">
      {told.slice(0, 12).map((r, i) => (
        <li key={i} className="border-b border-line pb-1.5">
          <span className="num">
            {day(r.at)} {hour(r.at)}
          </span>{" "}
          {r.weather && `${r.kind}: ${heard(q, r.weather)}`}
          {r.water && `water: ${Math.round(r.water.hardness)} mg/l`}
          <span className="block text-sm text-faded">{r.source}</span>
        </li>
      ))}
    </ul>
  );
}

/** Typed readings, saved: plans are made for them from now on. */
function useTell<T extends FieldValues>(start: DefaultValues<T>, reading: (values: T) => Told, said: string) {
  const queries = useQueryClient();
  return useEntry<T, Schemas["ReadingsView"]>({
    start,
    save: (values) => ask(client.POST("/readings", { body: [reading(values)] })),
    said,
    at: Object.fromEntries(Object.keys(start).map((key) => [`[0].${key}`, key])) as Record<string, FieldPath<T>>,
    onSaved: (view) => {
      queries.setQueryData(keys.readings(), view);
      stale(queries, keys.yard(), keys.plan(), keys.day(), keys.weather());
    },
  });
}

interface Felt {
  kind: "weather" | "forecast";
  at: number;
  temp?: number;
  rh?: number;
  wind?: number;
  rain?: number;
  sky: Schemas["Sky"];
}

function WeatherForm() {
  const us = useMe().data?.units === "us";
  const celsius = (t: number) => (us ? (t - 32) / 1.8 : t);
  const metres = (w: number) => (us ? w * 0.44704 : w);
  const of = useTell<Felt>(
    { kind: "weather", at: 3, sky: "some cloud" },
    ({ at, temp = 0, wind = 0, rh = 0, rain = 0, kind, sky }) => ({
      kind,
      sky,
      rh,
      rain,
      ...(kind === "forecast" && { at: new Date(clock.now() + at * 3_600_000).toISOString() }),
      temp: celsius(temp),
      wind: metres(wind),
    }),
    "Weather saved: plans are made for it from now on.",
  );
  const { form } = of;
  const kind = useWatch({ control: form.control, name: "kind" });
  return (
    <Panel title="Enter the weather">
      <Entry of={of} act="Save the weather">
        <ChoiceField
          form={form}
          name="kind"
          label="Of"
          options={[
            { value: "weather", label: "Now, in the yard" },
            { value: "forecast", label: "Later, by a forecast" },
          ]}
        />
        <div className="grid grid-cols-2 gap-3">
          {kind === "forecast" && <NumberField form={form} name="at" label="In how many hours" min={0} max={384} step={0.5} />}
          <NumberField form={form} name="temp" label={us ? "Air, °F" : "Air, °C"} min={us ? -22 : -30} max={us ? 131 : 55} step={0.1} />
          <NumberField form={form} name="rh" label="Humidity, %" min={2} max={100} />
          <NumberField form={form} name="wind" label={us ? "Wind, mph" : "Wind, m/s"} min={0} max={us ? 89 : 40} step={0.1} />
          <NumberField form={form} name="rain" label="Rain, mm/h" min={0} max={200} step={0.1} optional />
        </div>
        <ChoiceField
          form={form}
          name="sky"
          label="Sky"
          options={[
            { value: "clear", label: "Clear" },
            { value: "some cloud", label: "Some cloud" },
            { value: "overcast", label: "Overcast" },
          ]}
        />
      </Entry>
    </Panel>
  );
}

const units: readonly Schemas["HardnessUnit"][] = [
  "mg/l CaCO3",
  "grains per US gal",
  "German degrees",
  "French degrees",
  "English degrees",
  "mmol/l",
];

function WaterForm() {
  const of = useTell<{ hardness?: number; unit: Schemas["HardnessUnit"]; solids?: number }>(
    { unit: "mg/l CaCO3" },
    (values) => ({ kind: "water", ...values }),
    "Water saved.",
  );
  const { form } = of;
  return (
    <Panel title="Enter the water">
      <Entry of={of} act="Save the water">
        <div className="grid grid-cols-2 gap-3">
          <NumberField form={form} name="hardness" label="Hardness" min={0} max={2000} step={0.1} />
          <PickField form={form} name="unit" label="In" options={units} />
          <NumberField form={form} name="solids" label="Dissolved solids, mg/l" min={0} max={10_000} optional />
        </div>
      </Entry>
    </Panel>
  );
}
