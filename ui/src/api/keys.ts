import type { QueryClient } from "@tanstack/react-query";

/** The key of every query, in one place: what is fetched under a key is let go by the same. A key with fewer parts stands
 *  for all that begin with it. */
const key =
  <K extends string>(kind: K) =>
  (...of: unknown[]) =>
    [kind, ...of] as const;

export const keys = {
  audit: key("audit"),
  audits: key("audits"),
  bench: key("bench"),
  bucket: key("bucket"),
  care: key("care"),
  cases: key("cases"),
  checklist: key("checklist"),
  checklists: key("checklists"),
  day: key("day"),
  difference: key("difference"),
  effect: key("effect"),
  disputes: key("disputes"),
  judge: key("judge"),
  changed: key("changed"),
  lesson: key("lesson"),
  lookOver: key("look-over"),
  me: key("me"),
  outbox: key("outbox"),
  people: key("people"),
  plan: key("plan"),
  procedure: key("procedure"),
  procedures: key("procedures"),
  enough: key("enough"),
  questions: key("questions"),
  readings: key("readings"),
  ready: key("ready"),
  rest: key("rest"),
  rubric: key("rubric"),
  runs: key("runs"),
  settings: key("settings"),
  setup: key("setup"),
  shelf: key("shelf"),
  signIns: key("sign-ins"),
  authenticator: () => ["authenticator"] as const,
  slots: key("slots"),
  staff: key("staff"),
  tablet: key("tablet"),
  timeline: key("timeline"),
  times: key("times"),
  training: key("training"),
  try: key("try"),
  fit: key("fit"),
  vehicle: key("vehicle"),
  vehicles: key("vehicles"),
  wash: key("wash"),
  weather: key("weather"),
  whatIf: key("what-if"),
  watched: key("watched"),
  words: key("words"),
  yard: key("yard"),
  yours: key("yours"),
};

export type Key = ReturnType<(typeof keys)[keyof typeof keys]>;

/** Lets go of what a change has made old: what is in sight is fetched anew. */
export const stale = (queries: QueryClient, ...old: Key[]) => old.forEach((queryKey) => void queries.invalidateQueries({ queryKey }));
