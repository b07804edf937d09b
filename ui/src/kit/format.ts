import type { Schemas } from "../api/client";
import { useMe } from "../api/shop";

/** Minutes as people say them: "40 s", "5 min", "1 h 5 min". */
export function minutes(min: number): string {
  if (!Number.isFinite(min)) return "no limit";
  if (min > 0 && min < 1) return `${Math.round(min * 60)} s`;
  if (min < 10 && Math.round(min * 10) % 10 !== 0) return `${min.toFixed(1)} min`;
  const whole = Math.round(min);
  if (whole < 60) return `${whole} min`;
  return whole % 60 ? `${Math.floor(whole / 60)} h ${whole % 60} min` : `${whole / 60} h`;
}

/** Seconds as people say them. */
export function seconds(s: number): string {
  if (s < 60) return `${Math.round(s)} s`;
  if (s >= 900 || s % 60 === 0) return minutes(s / 60);
  return `${Math.floor(s / 60)} min ${Math.round(s % 60)} s`;
}

/** A running clock: 4:07, 1:02:33; below nought with a minus. */
export function clock(s: number): string {
  const sign = s < 0 ? "−" : "";
  const t = Math.floor(Math.abs(s));
  const two = (n: number) => String(n).padStart(2, "0");
  const h = Math.floor(t / 3600);
  return `${sign}${h ? `${h}:${two(Math.floor((t % 3600) / 60))}` : Math.floor(t / 60)}:${two(t % 60)}`;
}

/** Where the shop stands: its clock is shown, wherever the device thinks it is. */
let timeZone: string | undefined;
export const standIn = (zone: string) => void (timeZone = zone);

/** A time of day. */
export const hour = (iso: string | Date) =>
  new Date(iso).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit", ...(timeZone && { timeZone }) });

/** A day: "Mon 9 Mar". */
export const day = (iso: string) =>
  new Date(iso).toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short", ...(timeZone && { timeZone }) });

/** A day without its name: "9 Mar". */
export const date = (iso: string) =>
  new Date(iso).toLocaleDateString("en-GB", { day: "numeric", month: "short", ...(timeZone && { timeZone }) });

/** A day in full: "Monday 9 March". */
export const fullDay = (iso: string) =>
  new Date(iso).toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long", ...(timeZone && { timeZone }) });

/** A moment's date where the shop stands, as a date field holds it. */
export const dateOf = (iso: string | Date) => new Date(iso).toLocaleDateString("sv-SE", { ...(timeZone && { timeZone }) });

/** The moment of a date and a time of day where the shop stands. On the night that clocks are put forward an hour that is
 *  not there is taken as the one after. */
export function momentOf(date: string, time: string): Date {
  const wall = Date.parse(`${date}T${time}:00Z`);
  const off = (at: number) => Date.parse(`${dateOf(new Date(at))}T${hour(new Date(at))}:00Z`) - Math.floor(at / 60_000) * 60_000;
  const guess = wall - off(wall);
  return new Date(wall - off(guess));
}

/** At most n decimals, and none that are noughts. */
const digits = (x: number, n: number) => String(Number(x.toFixed(n)));

/** Quantities in the shop's units. The server computes in SI; this only writes. */
/** ml of a US fluid ounce (NIST Handbook 44, appendix C). */
const usOunce = 29.5735295625;

export function quantities(us: boolean, reading: Schemas["Me"]["ratio"] = "parts plus parts") {
  return {
    ratio: (r: Schemas["Readings"]) =>
      reading === "one part in" ? r.onePartIn : reading === "water first" ? `${r.waterFirst} water first` : r.partsPlusParts,
    volume: (ml: number) =>
      us ? `${digits(ml / usOunce, 2)} fl oz` : ml >= 1000 ? `${digits(ml / 1000, 2)} l` : `${digits(ml, ml < 10 ? 1 : 0)} ml`,
    /** What small amounts are typed in. */
    small: us ? { unit: "fl oz", ml: usOunce } : { unit: "ml", ml: 1 },
    area: (m2: number) => (us ? `${digits(m2 / 0.09290304, 0)} sq ft` : `${digits(m2, 1)} m²`),
    temp: (c: number) => (us ? `${Math.round(c * 1.8 + 32)} °F` : `${Math.round(c)} °C`),
    speed: (ms: number) => (us ? `${Math.round(ms / 0.44704)} mph` : `${digits(ms, 1)} m/s`),
  };
}

export function useQuantities() {
  const me = useMe().data;
  return quantities(me?.units === "us", me?.ratio);
}

const amount = new Intl.NumberFormat("en-GB", { minimumFractionDigits: 2, maximumFractionDigits: 2 });

/** Amounts of money are kept in minor units; the sign is the shop's own, which need not be a currency that Intl knows. */
export const money = (minor: number, currency: string) => `${currency}${amount.format(minor / 100)}`;

const rules = new Intl.PluralRules("en-GB");

/** A number of things: "1 wash", "3 washes". */
export const plural = (n: number, one: string, many = `${one}s`) => `${n} ${rules.select(n) === "one" ? one : many}`;

export const sentence = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);

/** A number as it is typed, with a comma or a point; undefined when nothing is. */
export function typed(text: string): number | undefined {
  const trimmed = text.trim().replace(",", ".");
  return trimmed === "" ? undefined : Number(trimmed);
}
