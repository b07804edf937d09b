import type { paths, Schemas } from "../api/client";
import { typed } from "../kit/format";

type SetUpBody = NonNullable<paths["/setup"]["post"]["requestBody"]>["content"]["application/json"];

/** What is typed while a shop is set up. */
export interface Draft {
  code: string;
  shopName: string;
  units: Schemas["System"];
  currency: string;
  timeZone: string;
  latitude: string;
  name: string;
  signIn: string;
  password: string;
  places: { kind: Schemas["PlaceKind"]; name: string; runoff: boolean }[];
  /** How many there are of a machine, by its name; those of the templates when unsaid. */
  machines: Record<string, number>;
  hardness: string;
  unit: Schemas["HardnessUnit"];
  solids: string;
  shelf: Schemas["ProductClass"][];
  pins: Record<string, string>;
  /** What a service costs, by its id; those without are not sold. */
  prices: Record<string, string>;
  /** What an hour of work, laundering a cloth and a cubic metre of water cost. */
  labour: string;
  launder: string;
  cubicMetre: string;
  /** What a litre costs, by class of product. */
  costs: Record<string, string>;
}

export const firstDraft = (usual: Schemas["ProductClass"][]): Draft => ({
  code: "",
  shopName: "",
  units: "metric",
  currency: "€",
  timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC",
  latitude: "",
  name: "",
  signIn: "",
  password: "",
  places: [{ kind: "covered bay", name: "", runoff: false }],
  machines: {},
  hardness: "",
  unit: "mg/l CaCO3",
  solids: "",
  shelf: usual,
  pins: {},
  prices: {},
  labour: "",
  launder: "",
  cubicMetre: "",
  costs: {},
});

const key = "uskel set-up";

/** Keeps what was typed on this device, so that a reload loses nothing. The password and the code are not kept. */
export function keepDraft(draft: Draft) {
  try {
    localStorage.setItem(key, JSON.stringify({ ...draft, password: "", code: "" }));
  } catch {
    // a device without room goes on without
  }
}

export function recallDraft(): Draft | undefined {
  try {
    const text = localStorage.getItem(key);
    return text ? { ...firstDraft([]), ...(JSON.parse(text) as Partial<Draft>) } : undefined;
  } catch {
    return undefined;
  }
}

export function dropDraft() {
  try {
    localStorage.removeItem(key);
  } catch {
    // nothing was kept
  }
}

/** What is sent: whatever was left empty is left out. */
export function asBody(d: Draft, machines: Schemas["Equipment"][]): SetUpBody {
  const latitude = typed(d.latitude);
  const hardness = typed(d.hardness);
  const solids = typed(d.solids);
  const minor = (text: string) => Math.round((typed(text) ?? 0) * 100);
  return {
    code: d.code,
    shopName: d.shopName,
    units: d.units,
    currency: d.currency,
    timeZone: d.timeZone,
    ...(latitude !== undefined && { latitude }),
    founder: { name: d.name, signIn: d.signIn, password: d.password },
    places: d.places.map((p) => ({ kind: p.kind, runoff: p.runoff, ...(p.name.trim() && { name: p.name }) })),
    machines: machines.flatMap((m) => ((d.machines[m.name] ?? m.count) > 0 ? [{ ...m, count: d.machines[m.name] ?? m.count }] : [])),
    ...(hardness !== undefined && { water: { hardness, unit: d.unit, ...(solids !== undefined && { solids }) } }),
    shelf: d.shelf,
    pins: d.pins,
    prices: Object.entries(d.prices).flatMap(([service, text]) => {
      const amount = typed(text);
      return amount === undefined ? [] : [{ service, amount: Math.round(amount * 100) }];
    }),
    labour: minor(d.labour),
    launder: minor(d.launder),
    cubicMetre: minor(d.cubicMetre),
    costs: d.shelf.flatMap((c) => (minor(d.costs[c] ?? "") > 0 ? [{ class: c, perLitre: minor(d.costs[c] ?? "") }] : [])),
  };
}

/** The machines that the places of a draft usually have, each once. */
export function usualMachines(d: Draft, templates: Schemas["PlaceTemplate"][]): Schemas["Equipment"][] {
  const found = new Map<string, Schemas["Equipment"]>();
  for (const p of d.places) for (const m of templates.find((t) => t.kind === p.kind)?.machines ?? []) found.set(m.name, m);
  return [...found.values()];
}
