import type { Schemas } from "../api/client";

type Settings = Schemas["Settings"];
type Service = Schemas["Service"];

export const services: readonly Service[] = ["basic", "signature"];

/** The settings as they are filled in: money in whole units, and lists that are always there. */
export interface Draft extends Omit<Settings, "labour" | "prices" | "vessels" | "machines" | "shifts" | "pins" | "ratio"> {
  ratio: NonNullable<Settings["ratio"]>;
  labour: number;
  prices: Partial<Record<Service, number>>;
  vessels: NonNullable<Settings["vessels"]>;
  machines: NonNullable<Settings["machines"]>;
  shifts: NonNullable<Settings["shifts"]>;
  pins: NonNullable<Settings["pins"]>;
}

export const asDraft = (s: Settings): Draft => ({
  ...s,
  ratio: s.ratio ?? "parts plus parts",
  labour: (s.labour ?? 0) / 100,
  prices: Object.fromEntries((s.prices ?? []).map((p) => [p.service, p.amount / 100])),
  vessels: s.vessels ?? [],
  machines: s.machines ?? [],
  shifts: s.shifts ?? [],
  pins: s.pins ?? {},
});

const minor = (amount: number) => Math.round(amount * 100);

export function asSettings(d: Draft): Settings {
  const prices = services.flatMap((service) => {
    const amount = d.prices[service];
    return amount === undefined ? [] : [{ service, amount: minor(amount) }];
  });
  const all = { ...d, labour: minor(d.labour), prices };
  return Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined)) as unknown as Settings; // left empty is absent
}

/** The form's name for a field as the server names it: settings.places[0].name is places.0.name. */
export const nameOf = (location: string) => location.replace(/^settings\./, "").replace(/\[(\d+)\]/g, ".$1");
