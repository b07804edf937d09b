import type { Schemas } from "../api/client";

type Move = Schemas["ContactMove"];
type Zone = Schemas["Zone"];

/** What is done between two rinses of the mitt. */
export interface Mittful {
  acts: ({ do: "wash"; zone: Zone; part: string } | { do: "flip" } | { do: "lower mitt" })[];
  zones: Zone[];
}

/** The contact plan cut at its rinses: a mittful each, and a rinse after each but the last. */
export function mittfuls(moves: readonly Move[]): Mittful[] {
  const list: Mittful[] = [];
  let now: Mittful = { acts: [], zones: [] };
  const left = new Map<Zone, number>();
  for (const m of moves) {
    if (m.kind === "rub on the guard" || m.kind === "swish only") {
      list.push(now);
      now = { acts: [], zones: [] };
    } else if (m.kind === "flip") now.acts.push({ do: "flip" });
    else if (m.kind === "change to the lower mitt") now.acts.push({ do: "lower mitt" });
    else if (m.kind === "wash" && m.zone) {
      const before = left.get(m.zone) ?? 1;
      const share = before * (m.share ?? 1);
      left.set(m.zone, before - share);
      now.acts.push({ do: "wash", zone: m.zone, part: partOf(share, before) });
      if (!now.zones.includes(m.zone)) now.zones.push(m.zone);
    }
  }
  return now.acts.length > 0 ? [...list, now] : list;
}

/** A share of a zone as people say it. */
function partOf(share: number, before: number): string {
  if (share > 0.97) return "";
  if (before < 0.99 && before - share < 0.03) return "the rest";
  const named: [number, string][] = [
    [0.25, "a quarter"],
    [1 / 3, "a third"],
    [0.5, "half"],
    [2 / 3, "two thirds"],
    [0.75, "three quarters"],
  ];
  return named.reduce((best, n) => (Math.abs(n[0] - share) < Math.abs(best[0] - share) ? n : best), [0.9, "most"] as [number, string])[1];
}
