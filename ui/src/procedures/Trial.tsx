import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { useMe, useWords, useYard } from "../api/shop";
import { minutes, money, plural, useQuantities } from "../kit/format";
import { Figure, Panel, Select } from "../kit/kit";
import type { TryOn } from "./useDraft";
import { keys } from "../api/keys";

interface MadeUp {
  body: Schemas["Body"];
  grade: number;
  lower: number;
  cover: Schemas["Cover"];
  temp: number;
  crew: number;
}

/** The vehicle a draft is tried on: one from the yard, or a made-up one. */
export function useTrial() {
  const [booking, setBooking] = useState("");
  const [made, setMade] = useState<MadeUp>({ body: "hatch", grade: 1, lower: 2, cover: "shade", temp: 16, crew: 1 });
  const parts = useWords().data?.bodies.find((b) => b.body === made.body)?.parts;
  const look = useQuery({
    queryKey: keys.lookOver(booking),
    queryFn: () => ask(client.GET("/bookings/{id}/look-over", { params: { path: { id: booking } } })),
    enabled: booking !== "",
    staleTime: 60_000,
  });
  const on = useMemo<TryOn | undefined>(() => {
    if (booking) return look.data && { vehicle: look.data.booking.spec, lookOver: look.data.lookOver };
    if (!parts) return undefined;
    const low = (band: string) => band === "lower" || band === "wheels";
    return {
      vehicle: { body: made.body, shade: "mid", finish: "ordinary", wheels: { inches: 17, spokes: "plain", bare: false }, electric: false },
      lookOver: {
        grades: Object.fromEntries(parts.map((p) => [p.zone, low(p.band) ? made.lower : made.grade])),
        bonded: [],
        watch: [],
        salt: false,
        protection: { kind: "sealant", ageDays: 60, water: "beads" },
        place: { name: "made up", cover: made.cover, supply: "pressure washer", runoff: true, blower: true, heading: 0 },
        budget: 0,
        crew: made.crew,
        service: "basic",
        tyreShine: false,
        notes: "",
      },
      weather: { temp: made.temp, rh: 0.65, wind: 1.5, direct: 400, diffuse: 90, sunAltitude: 35, sunAzimuth: 180, rain: 0 },
    };
  }, [booking, look.data, made, parts]);
  return { booking, setBooking, made, setMade, on };
}

/** The draft filled for that vehicle, as it is written. */
export function Trial({
  trial,
  tried,
  before,
  title,
  onPick,
}: {
  trial: ReturnType<typeof useTrial>;
  tried: Schemas["Tried"] | undefined;
  /** The same trial as the draft stood when it was opened. */
  before: Schemas["Tried"] | undefined;
  title: (id: string) => string;
  onPick: (id: string) => void;
}) {
  const me = useMe().data;
  const cars = useYard().data?.bookings.filter((b) => b.overall !== undefined) ?? [];
  const bodies = useWords().data?.bodies ?? [];
  const { made, setMade } = trial;
  const slide = (label: string, key: "grade" | "lower" | "temp" | "crew", min: number, max: number, unit = "") => (
    <label className="block">
      <span className="flex justify-between">
        <span className="font-semibold">{label}</span>
        <span className="num">
          {made[key]}
          {unit}
        </span>
      </span>
      <input
        type="range"
        className="w-full accent-tide"
        min={min}
        max={max}
        value={made[key]}
        onChange={(e) => setMade({ ...made, [key]: Number(e.target.value) })}
      />
    </label>
  );
  const q = useQuantities();
  const p = tried?.plan;
  const was = (id: string) => before?.plan?.steps.find((s) => s.id === id);
  const gone = before?.plan?.steps.filter((s) => p && !p.steps.some((x) => x.id === s.id)) ?? [];
  const changed = (s: Schemas["FilledStep"]) => {
    const old = was(s.id);
    if (!before?.plan) return "";
    if (!old) return "new";
    return old.minutes !== s.minutes ? `was ${minutes(old.minutes)}` : old.text !== s.text ? "reworded" : "";
  };
  return (
    <Panel title="Try it on">
      <div className="grid gap-2">
        <Select
          label="Vehicle to try it on"
          value={trial.booking}
          onChange={trial.setBooking}
          options={[
            { value: "", label: "a made-up vehicle" },
            ...cars.map((b) => ({ value: b.id, label: `${b.label}, grade ${b.overall}` })),
          ]}
        />
        {!trial.booking && (
          <>
            <div className="grid grid-cols-2 gap-2">
              <Select
                label="Body"
                value={made.body}
                onChange={(body) => setMade({ ...made, body })}
                options={bodies.map((b) => ({ value: b.body, label: b.label }))}
              />
              <Select
                label="Cover"
                value={made.cover}
                onChange={(cover) => setMade({ ...made, cover })}
                options={["open sky", "shade", "indoors"] as const}
              />
            </div>
            {slide("Grade above", "grade", 0, 4)}
            {slide("Grade low down", "lower", 0, 4)}
            {slide("Air", "temp", -5, 38, " °C")}
            {slide("Pairs of hands", "crew", 1, 6)}
          </>
        )}
      </div>
      {tried && tried.refused.length > 0 && (
        <ul className="mt-3 grid gap-1 rounded-xl border-2 border-rust bg-rust-wash p-2.5 text-rust">
          {tried.refused.map((r) => (
            <li key={r}>Refused: {r}</li>
          ))}
        </ul>
      )}
      {p && (
        <>
          <div className="mt-3 flex flex-wrap gap-x-6 gap-y-2">
            <Figure value={minutes(p.minutes)} label="one person" />
            <Figure value={String(Math.round(p.index))} label="scratch risk of 100" />
            <Figure value={money(p.cost, me?.currency ?? "")} label="product" />
            <Figure value={q.volume(p.litres * 1000)} label="water" />
          </div>
          {p.warnings.map((w) => (
            <p key={w} className="mt-1 text-sm font-semibold text-rust">
              {w}
            </p>
          ))}
          <details className="mt-2" open>
            <summary className="font-semibold text-tide">{plural(p.steps.length, "step")} in</summary>
            <ol className="text-sm">
              {p.steps.map((s) => (
                <li key={s.id}>
                  <button
                    type="button"
                    className="flex min-h-7 w-full justify-between gap-2 text-left hover:underline"
                    onClick={() => onPick(s.id)}
                  >
                    <span>
                      {s.title} {changed(s) && <b className="text-tide">{changed(s)}</b>}
                    </span>
                    <span className="num text-faded">{minutes(s.minutes)}</span>
                  </button>
                </li>
              ))}
            </ol>
          </details>
          {gone.length > 0 && <p className="mt-1 text-sm font-semibold text-tide">No longer in: {gone.map((s) => s.title).join(", ")}</p>}
          {p.out.length > 0 && (
            <details className="mt-2">
              <summary className="font-semibold text-tide">{plural(p.out.length, "step")} out</summary>
              <ul className="grid gap-1 text-sm">
                {p.out.map((o) => (
                  <li key={o.id}>
                    <b>{title(o.id)}</b> <span className="text-faded">{o.because}</span>
                  </li>
                ))}
              </ul>
            </details>
          )}
        </>
      )}
    </Panel>
  );
}
