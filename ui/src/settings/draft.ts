import type { Schemas } from "../api/client";

type Settings = Schemas["Settings"];
type Service = Schemas["Service"];
type Lists = "families" | "procedures" | "takes" | "leaves" | "drops";

/** A service as it is filled in: its price in whole units, and lists that are always there. */
export type ServiceDraft = Omit<Service, "price" | "minutes" | Lists> & {
  price?: number | undefined;
  minutes?: number | undefined;
} & { [K in Lists]: NonNullable<Service[K]> };

/** The settings as they are filled in: money in whole units, and lists that are always there. */
export interface Draft extends Omit<
  Settings,
  "labour" | "launder" | "water" | "services" | "vessels" | "machines" | "shifts" | "pins" | "ratio"
> {
  ratio: NonNullable<Settings["ratio"]>;
  labour: number;
  launder: number;
  water: number;
  services: ServiceDraft[];
  vessels: NonNullable<Settings["vessels"]>;
  machines: NonNullable<Settings["machines"]>;
  shifts: NonNullable<Settings["shifts"]>;
  pins: NonNullable<Settings["pins"]>;
}

const asServiceDraft = (s: Service): ServiceDraft => ({
  ...s,
  price: s.price ? s.price / 100 : undefined,
  minutes: s.minutes || undefined,
  families: s.families ?? [],
  procedures: s.procedures ?? [],
  takes: s.takes ?? [],
  leaves: s.leaves ?? [],
  drops: s.drops ?? [],
});

export const asDraft = (s: Settings): Draft => ({
  ...s,
  ratio: s.ratio ?? "parts plus parts",
  labour: (s.labour ?? 0) / 100,
  launder: (s.launder ?? 0) / 100,
  water: (s.water ?? 0) / 100,
  services: (s.services ?? []).map(asServiceDraft),
  vessels: s.vessels ?? [],
  machines: s.machines ?? [],
  shifts: s.shifts ?? [],
  pins: s.pins ?? {},
});

const minor = (amount: number) => Math.round(amount * 100);

/** Without what was left empty. */
const filled = <T extends object>(all: T) => Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined));

export function asSettings(d: Draft): Settings {
  const services = d.services.map((s) => filled({ ...s, price: s.price === undefined ? undefined : minor(s.price) }));
  const places = d.places.map(filled);
  return filled({
    ...d,
    labour: minor(d.labour),
    launder: minor(d.launder),
    water: minor(d.water),
    services,
    places,
  }) as unknown as Settings;
}

/** The form's name for a field as the server names it: settings.places[0].name is places.0.name. */
export const nameOf = (location: string) => location.replace(/^settings\./, "").replace(/\[(\d+)\]/g, ".$1");
