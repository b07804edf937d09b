import { clock } from "../offline/queue";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../api/client";
import { useMay, useMe } from "../api/shop";
import { day, hour, typed, useQuantities } from "../kit/format";
import { Button, Choice, Empty, Field, inputLook, Loading, Panel, Select, Trouble } from "../kit/kit";
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
        {me?.demo && (
          <p className="mt-3 font-semibold">The demo’s instruments are simulated: what is typed in here is kept and not used.</p>
        )}
        <h3 className="mt-4 mb-1 font-semibold">Told last</h3>
        {told.length === 0 ? <Empty>Nobody has told anything yet.</Empty> : <Lines told={told} />}
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
export const said = (from: Schemas["From"]) =>
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
          {r.weather &&
            `${r.kind}: ${q.temp(r.weather.temp)}, ${Math.round(r.weather.rh * 100)} %, ${q.speed(r.weather.wind)}, ${r.weather.sky}`}
          {r.water && `water: ${Math.round(r.water.hardness)} mg/l`}
          <span className="block text-sm text-faded">{r.source}</span>
        </li>
      ))}
    </ul>
  );
}

function useTell() {
  const queries = useQueryClient();
  return useMutation({
    meta: { said: "Reading saved." },
    mutationFn: (reading: Told) => ask(client.POST("/readings", { body: [reading] })),
    onSuccess: (view) => {
      queries.setQueryData(keys.readings(), view);
      stale(queries, keys.yard(), keys.plan(), keys.day(), keys.weather());
    },
  });
}

function NumberField({
  label,
  value,
  onChange,
  optional,
}: {
  label: string;
  value: string;
  onChange: (v: string) => void;
  optional?: boolean;
}) {
  return (
    <Field label={label}>
      <input
        className={`${inputLook} num`}
        inputMode="decimal"
        pattern="-?[0-9]+([.,][0-9]+)?"
        value={value}
        required={!optional}
        onChange={(e) => onChange(e.target.value)}
      />
    </Field>
  );
}

function WeatherForm() {
  const us = useMe().data?.units === "us";
  const [kind, setKind] = useState<"weather" | "forecast">("weather");
  const [hours, setHours] = useState("3");
  const [temp, setTemp] = useState("");
  const [rh, setRh] = useState("");
  const [wind, setWind] = useState("");
  const [rain, setRain] = useState("");
  const [sky, setSky] = useState<Schemas["Sky"]>("some cloud");
  const tell = useTell();
  const submit = (e: FormEvent) => {
    e.preventDefault();
    const t = typed(temp) ?? 0;
    const w = typed(wind) ?? 0;
    tell.mutate({
      kind,
      ...(kind === "forecast" && { at: new Date(clock.now() + (typed(hours) ?? 0) * 3_600_000).toISOString() }),
      temp: us ? (t - 32) / 1.8 : t,
      rh: typed(rh) ?? 0,
      wind: us ? w * 0.44704 : w,
      rain: typed(rain) ?? 0,
      sky,
    });
  };
  return (
    <Panel title="Say what the weather is">
      <form onSubmit={submit} className="grid gap-3">
        <Choice
          label="Of"
          value={kind}
          onChange={setKind}
          options={[
            { value: "weather", label: "Now, in the yard" },
            { value: "forecast", label: "Later, by a forecast" },
          ]}
        />
        <div className="grid grid-cols-2 gap-3">
          {kind === "forecast" && <NumberField label="In how many hours" value={hours} onChange={setHours} />}
          <NumberField label={us ? "Air, °F" : "Air, °C"} value={temp} onChange={setTemp} />
          <NumberField label="Humidity, %" value={rh} onChange={setRh} />
          <NumberField label={us ? "Wind, mph" : "Wind, m/s"} value={wind} onChange={setWind} />
          <NumberField label="Rain, mm/h" value={rain} onChange={setRain} optional />
        </div>
        <Choice
          label="Sky"
          value={sky}
          onChange={setSky}
          options={[
            { value: "clear", label: "Clear" },
            { value: "some cloud", label: "Some cloud" },
            { value: "overcast", label: "Overcast" },
          ]}
        />
        {tell.error && <Trouble error={tell.error} />}
        {tell.isSuccess && <p role="status">Saved. Plans are made for it from now on.</p>}
        <Button look="act" type="submit" disabled={tell.isPending} className="min-h-hit justify-self-start">
          Save the weather
        </Button>
      </form>
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
  const [hardness, setHardness] = useState("");
  const [unit, setUnit] = useState<Schemas["HardnessUnit"]>("mg/l CaCO3");
  const [solids, setSolids] = useState("");
  const tell = useTell();
  const submit = (e: FormEvent) => {
    e.preventDefault();
    tell.mutate({ kind: "water", hardness: typed(hardness) ?? 0, unit, solids: typed(solids) ?? 0 });
  };
  return (
    <Panel title="Say what the water is">
      <form onSubmit={submit} className="grid gap-3">
        <div className="grid grid-cols-2 gap-3">
          <NumberField label="Hardness" value={hardness} onChange={setHardness} />
          <Field label="In">
            <Select value={unit} onChange={setUnit} options={units} />
          </Field>
          <NumberField label="Dissolved solids, mg/l" value={solids} onChange={setSolids} optional />
        </div>
        {tell.error && <Trouble error={tell.error} />}
        {tell.isSuccess && <p role="status">Saved.</p>}
        <Button look="act" type="submit" disabled={tell.isPending} className="min-h-hit justify-self-start">
          Save the water
        </Button>
      </form>
    </Panel>
  );
}
