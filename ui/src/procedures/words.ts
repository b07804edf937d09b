import type { Schemas } from "../api/client";
import { minutes, seconds } from "../kit/format";

export type Procedure = Schemas["Procedure"];
export type Stage = Procedure["stages"][number];
export type Step = Stage["steps"][number];
export type Rule = Schemas["Rule"];
export type Round = Schemas["Round"];

/** Whether a cloth meets the paint in the step: then its time follows from the car, its dirt and the rinses. */
export const touches = (s: Step) => s.technique === "contact wash" || s.technique === "towel wash";

/** A step's hands-on time in words. */
export function handsOn(t: Step["time"]) {
  const parts = [
    t.fixed && `${minutes(t.fixed)} fixed`,
    t.body && `${minutes(t.body)} on a mid-size car`,
    t.perWheel && `${minutes(t.perWheel)} a wheel`,
  ].filter(Boolean);
  return parts.length ? `${parts.join(" and ")}${t.soiled ? ", more with soil" : ""}` : "no time yet";
}

/** A dose as its label prints it. */
export function doseWords(d: NonNullable<Step["dose"]>) {
  const { product, water } = d.ratio;
  const ratio =
    d.reading === "water first"
      ? `${water}:${product} water first`
      : d.reading === "one part in"
        ? `${product} in ${product + water}`
        : `${product} + ${water} parts`;
  const c = d.counted;
  const strength = c ? `${c.count} ${c.unit}${c.each ? ` of ${c.each} ml` : ""}` : ratio;
  return `${d.class}, ${strength}, ${d.fill} ml ${d.byWater ? "of water in the" : "in the"} ${d.vessel}`;
}

/** A step's particulars in one line. */
export function particulars(s: Step) {
  return [
    s.dose && doseWords(s.dose),
    !s.dose && s.class,
    s.dwell && `works ${seconds(s.dwell.min)} to ${seconds(s.dwell.max)}${s.dwell.each ? " on each" : ""}`,
    touches(s) ? "time by the car, its dirt and the rinses" : handsOn(s.time),
    s.cloth && `${s.cloth}${s.colour ? ` (${s.colour})` : ""}`,
    s.tool,
    s.skill && `skill: ${s.skill}`,
  ]
    .filter(Boolean)
    .join(" · ");
}

export const stepsOf = (p: Procedure) => p.stages.flatMap((stage) => stage.steps);

/** A short name that no other round has. */
export const freeRound = (p: Procedure) => free(new Set((p.rounds ?? []).map((r) => r.id)), "round");

/** A short name that no other step has. */
export const freeId = (p: Procedure, from: string) => free(new Set(stepsOf(p).map((s) => s.id)), from);

function free(taken: Set<string>, from: string) {
  const base =
    from
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-|-$/g, "")
      .slice(0, 40) || "step";
  if (!taken.has(base)) return base;
  for (let n = 2; ; n++) if (!taken.has(`${base}-${n}`)) return `${base}-${n}`;
}

/** A new step is of the kind of those around it: its technique, zones and skill follow the stage. */
export const blankStep = (id: string, title: string, like?: Step): Step => ({
  id,
  title,
  text: "",
  reason: "",
  zones: like && like.zones !== "chosen zones" ? like.zones : "none",
  technique: like?.technique ?? "prepare",
  ...(like?.skill && { skill: like.skill }),
  time: { fixed: 1, body: 0, perWheel: 0, soiled: false },
  when: {},
});
