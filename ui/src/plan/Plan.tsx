import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { AlertTriangle, Check } from "lucide-react";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { Problem, type Schemas, ask, client } from "../api/client";
import { useMe, usePeople, useMay } from "../api/shop";
import { Car } from "../car/Car";
import { hour, minutes, money, plural, seconds, sentence, useQuantities } from "../kit/format";
import { Button, Figure, Head, LinkButton, Loading, Origins, Panel, Select, Tag, Tick, Trouble } from "../kit/kit";
import { useQuestions } from "../kit/Pins";
import { Crew } from "./Crew";
import { Ratio } from "../kit/ratio";
import { partWords } from "../kit/rounds";
import { keys } from "../api/keys";

type FilledStep = Schemas["FilledStep"];

export function Plan() {
  const { id = "" } = useParams();
  const [chosen, setChosen] = useState("");
  const [asNow, setAsNow] = useState(false);
  const plan = useQuery({
    queryKey: keys.plan(id, chosen, asNow),
    queryFn: () =>
      ask(client.GET("/bookings/{id}/plan", { params: { path: { id }, query: { asNow, ...(chosen && { procedure: chosen }) } } })),
    placeholderData: (last) => last,
  });
  const [step, setStep] = useState("");
  if (plan.isPending) return <Loading what="the plan" />;
  const veiled = plan.error instanceof Problem && plan.error.veiled;
  if (!plan.data)
    return (
      <div className="grid gap-3">
        <Trouble error={plan.error} />
        <LinkButton to={veiled ? "/look-over" : `/look-over/${id}`} className="justify-self-start">
          {veiled ? "To the look-overs" : "Look it over"}
        </LinkButton>
      </div>
    );
  const view = plan.data;
  const choice = view.choices.find((c) => c.plan);
  return (
    <>
      <Head
        title={`Plan: ${view.booking.label}`}
        sub={
          <>
            <span className="num">{view.booking.plate}</span> · {view.booking.serviceName} · {view.booking.place.name} · weather:{" "}
            {view.around.weatherFrom.says} · water: {view.around.waterFrom.says} · promised {hour(view.booking.promisedAt)}
          </>
        }
      >
        {!view.booking.washId && <LinkButton to={`/look-over/${id}`}>Look again</LinkButton>}
        {view.booking.washId ? (
          <LinkButton look="act" to={`/bay/${view.booking.washId}`}>
            To the bay
          </LinkButton>
        ) : (
          choice?.plan && <StartWash view={view} procedure={choice.procedure} />
        )}
      </Head>
      <ForHour view={view} asNow={asNow} onAsNow={setAsNow} />
      <Verdicts view={view} choice={choice} onChoose={setChosen} />
      {choice?.plan ? (
        <Filled
          asNow={asNow}
          key={choice.procedure}
          plan={choice.plan}
          view={view}
          step={step}
          onStep={setStep}
          missing={view.missing[choice.procedure] ?? []}
        />
      ) : (
        <Panel>
          <p className="font-semibold">Every procedure would do harm or cannot be done here. Change the place, wait, or refuse the job.</p>
        </Panel>
      )}
    </>
  );
}

function StartWash({ view, procedure }: { view: Schemas["PlanView"]; procedure: string }) {
  const me = useMe().data;
  const people = usePeople().data ?? [];
  const queries = useQueryClient();
  const go = useNavigate();
  const may = useMay();
  const lead = may("run the day");
  const hands = people.filter((p) => p.role !== "auditor" && (lead || p.id === me?.id));
  const [washer, setWasher] = useState(view.booking.washer?.id ?? "");
  const washerId = hands.some((h) => h.id === washer) ? washer : (hands[0]?.id ?? "");
  const start = useMutation({
    mutationFn: () =>
      ask(
        client.POST("/bookings/{id}/wash", {
          params: { path: { id: view.booking.id } },
          body: { procedure, washerId, booking: view.booking.version, lookOver: view.version },
        }),
      ),
    onSuccess: (wash) => {
      queries.setQueryData(keys.wash(wash.id), wash);
      void queries.invalidateQueries({ queryKey: keys.yard() });
      void go(`/bay/${wash.id}`);
    },
  });
  if (!may("wash") || hands.length === 0) return null;
  return (
    <>
      {lead && (
        <div className="w-48">
          <Select
            label="Who washes"
            value={washerId}
            onChange={setWasher}
            options={hands.map((h) => ({ value: h.id, label: `${h.name}, ${h.role}` }))}
          />
        </div>
      )}
      <Button look="act" disabled={start.isPending} onClick={() => start.mutate()}>
        Into the bay
      </Button>
      {start.error && <Trouble error={start.error} />}
    </>
  );
}

/** The three best side by side: what each does to the paint, what it takes, what it leaves. The rest below, with reasons. */
function Verdicts({
  view,
  choice,
  onChoose,
}: {
  view: Schemas["PlanView"];
  choice: Schemas["Choice"] | undefined;
  onChoose: (id: string) => void;
}) {
  const me = useMe().data;
  const q = useQuantities();
  const possible = view.choices.filter((c) => c.verdict !== "refused");
  const delivering = possible.filter((c) => c.delivers);
  const first = (delivering.length ? delivering : possible).slice(0, 3);
  const more = delivering.slice(3);
  const besides = possible.filter((c) => !c.delivers && !first.includes(c));
  const refused = view.choices.filter((c) => c.verdict === "refused");
  return (
    <div className="mb-4 grid gap-2">
      {delivering.length === 0 && possible.length > 0 && (
        <p className="rounded-xl bg-amber-wash px-4 py-2.5 font-semibold">{view.undelivered}</p>
      )}
      <ul className="grid gap-2 md:grid-cols-3">
        {first.map((c) => (
          <li key={c.procedure}>
            <button
              type="button"
              aria-pressed={c.procedure === choice?.procedure}
              onClick={() => onChoose(c.procedure)}
              className={`flex h-full w-full flex-col items-start rounded-xl border-2 px-3 py-2 text-left ${c.procedure === choice?.procedure ? "border-tide bg-tide-wash" : "border-line bg-paper hover:border-ink"}`}
            >
              <span className="flex flex-wrap items-center gap-2">
                <Tag tone={c.verdict === "recommended" ? "moss" : "plain"}>
                  {c.verdict === "recommended" && <Check size={14} aria-hidden />}
                  {sentence(c.verdict)}
                </Tag>
                <b>{c.title}</b>
              </span>
              <span className="mt-1 flex flex-wrap gap-x-4 text-sm">
                <span>
                  <b className="num">{minutes(c.minutes)}</b>
                </span>
                <span>
                  scratch risk <b className="num">{Math.round(c.index)}</b>
                </span>
                <span>
                  water <b className="num">{q.volume(c.litres * 1000)}</b>
                </span>
                <span>
                  product <b className="num">{money(c.cost, me?.currency ?? "")}</b>
                </span>
              </span>
              {c.why.slice(1).map((w) => (
                <span key={w} className="mt-0.5 block text-sm">
                  {w}
                </span>
              ))}
            </button>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap items-start gap-x-6 gap-y-1">
        {more.length > 0 && <Others title={plural(more.length, "more option")} choices={more} onChoose={onChoose} />}
        {besides.length > 0 && <Others title={`${besides.length} besides what was ordered`} choices={besides} onChoose={onChoose} />}
        {refused.length > 0 && (
          <details open={possible.length === 0}>
            <summary className="font-semibold text-rust">
              {plural(refused.length, "refused here, and why", "refused here, and why")}
            </summary>
            <ul className="mt-1 grid gap-1">
              {refused.map((c) => (
                <li key={c.procedure} className="border-l-4 border-line pl-3">
                  <b>{c.title}</b> <span className="text-sm text-faded">{c.why.join(" ")}</span>
                </li>
              ))}
            </ul>
          </details>
        )}
        <Disagreements view={view} choice={choice} />
      </div>
    </div>
  );
}

/** Washes that could be chosen besides the best, with what speaks for and against each. */
function Others({ title, choices, onChoose }: { title: string; choices: Schemas["Choice"][]; onChoose: (id: string) => void }) {
  return (
    <details>
      <summary className="font-semibold text-tide">{title}</summary>
      <ul className="mt-1 grid gap-1">
        {choices.map((c) => (
          <li key={c.procedure}>
            <Button look="quiet" className="min-h-8 px-0!" onClick={() => onChoose(c.procedure)}>
              {c.title}
            </Button>{" "}
            <span className="text-sm text-faded">{c.why.join(" ")}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** How each disagreement of the trade is settled for this wash, and by whom; it can be pinned for this wash. */
function Disagreements({ view, choice }: { view: Schemas["PlanView"]; choice: Schemas["Choice"] | undefined }) {
  const looks = useMay()("look over");
  const queries = useQueryClient();
  const pin = useMutation({
    meta: { said: "Settled for this wash." },
    mutationFn: ({ fact, value }: { fact: string; value: string }) => {
      const rest = Object.fromEntries(Object.entries(view.lookOver.pins ?? {}).filter(([f]) => f !== fact));
      return ask(
        client.PUT("/bookings/{id}/look-over", {
          params: { path: { id: view.booking.id } },
          body: { version: view.version, lookOver: { ...view.lookOver, pins: value ? { ...rest, [fact]: value } : rest } },
        }),
      );
    },
    onSuccess: (next) => {
      queries.setQueryData(keys.lookOver(view.booking.id), next);
      void queries.invalidateQueries({ queryKey: keys.plan(view.booking.id) });
    },
  });
  const questions = useQuestions().data ?? [];
  const settled = (choice?.plan?.settled ?? []).flatMap((s) => {
    const q = questions.find((x) => x.fact === s.fact);
    return q ? [{ ...q, ...s }] : [];
  });
  if (settled.length === 0) return null;
  const may = looks && !view.booking.washId;
  return (
    <details>
      <summary className="font-semibold text-tide">Where practitioners disagree</summary>
      {pin.error && <Trouble error={pin.error} />}
      <ul className="mt-2 grid gap-x-6 gap-y-3 xl:grid-cols-2">
        {settled.map((s) => (
          <li key={s.fact} className="grid grid-cols-[1fr_11rem] items-start gap-3">
            <div>
              <b>{s.text}</b> {sentence(s.value)}: {s.why}.
              {s.schools.map((x) => (
                <span key={x.value} className="block text-sm text-faded">
                  {x.value}: {x.reason}
                </span>
              ))}
            </div>
            {may && (
              <Select
                label={s.text}
                value={view.lookOver.pins?.[s.fact] ?? ""}
                onChange={(value) => pin.mutate({ fact: s.fact, value })}
                options={[{ value: "", label: "not pinned" }, ...s.schools.map((x) => ({ value: x.value, label: x.value }))]}
              />
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** For which hour's weather the plan is made, whether another goes better, and the switch to this moment's. */
function ForHour({ view, asNow, onAsNow }: { view: Schemas["PlanView"]; asNow: boolean; onAsNow: (on: boolean) => void }) {
  const air = view.around.weather;
  const q = useQuantities();
  if (view.booking.washId) return null;
  return (
    <div className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-1">
      <p>
        For <b className="num">{hour(view.at)}</b>: {q.temp(air.temp)}, {Math.round(air.rh * 100)} % humidity
        {air.direct > 100 ? ", sun" : ""}
        {air.rain > 0 ? ", rain" : ""}
      </p>
      {view.better && (
        <p className="rounded-lg bg-tide-wash px-2 font-semibold">
          Better at <span className="num">{hour(view.better.at)}</span>: {view.better.says}
        </p>
      )}
      <Tick label="As if it began now" on={asNow} onChange={onAsNow} />
    </div>
  );
}

function Filled({
  plan,
  view,
  step,
  onStep,
  asNow,
  missing,
}: {
  plan: Schemas["Plan"];
  view: Schemas["PlanView"];
  step: string;
  onStep: (id: string) => void;
  asNow: boolean;
  missing: string[];
}) {
  const me = useMe().data;
  const q = useQuantities();
  const current = plan.steps.find((s) => s.id === step) ?? plan.steps.find((s) => s.panels) ?? plan.steps[0];
  const warnings = [
    ...plan.warnings,
    ...(view.short ?? []),
    ...(missing.length && view.booking.washer && !view.booking.arranged?.beside
      ? [`${view.booking.washer.name} is not signed off for ${missing.join(", ")}: somebody who is must stand beside them.`]
      : []),
  ];
  return (
    <>
      <Crew key={plan.procedure} view={view} plan={plan} asNow={asNow} onStep={onStep} />
      <Panel className="mb-4">
        <div className="flex flex-wrap gap-x-9 gap-y-2">
          <Figure value={`${Math.round(plan.index)}`} label="scratch risk of 100" tone={plan.index > 25 ? "text-rust" : "text-ink"} />
          {plan.towels > 0 ? (
            <Figure value={String(plan.towels)} label="plush towels" />
          ) : (
            <Figure value={String(plan.rinses)} label="rinses of the mitt" />
          )}
          <Figure
            value={money(plan.costs.product + plan.costs.cloths + plan.costs.water, me?.currency ?? "")}
            label={[
              `product ${money(plan.costs.product, "")}`,
              `${plural(plan.costs.used, "cloth")} ${money(plan.costs.cloths, "")}`,
              `water ${money(plan.costs.water, "")}`,
              ...(plan.costs.without?.length ? [`without ${plan.costs.without.join(", ")}: no price is set`] : []),
            ].join(", ")}
          />
          <Figure value={q.volume(plan.litres * 1000)} label="water" />
          <Figure value={minutes(plan.minutes)} label="one person, as written" />
        </div>
      </Panel>
      <ul className="mb-4 grid gap-1 rounded-xl border border-line bg-paper px-4 py-2.5" aria-label="Mind">
        {warnings.map((w) => (
          <li key={w} className="flex items-start gap-2 font-semibold">
            <AlertTriangle size={19} className="mt-0.5 shrink-0 text-rust" aria-hidden /> {w}
          </li>
        ))}
        {(view.ways ?? []).length > 0 && (
          <li className="pl-7">
            Every dwell is kept, tried by laying it out: {(view.ways ?? []).map((w) => w.says.replace(/\.$/, "")).join("; or ")}.
          </li>
        )}
        {plan.drop.length > 0 && (
          <li className="pl-7">
            Short of time? Drop first:{" "}
            {plan.drop.map((d, i) => (
              <span key={d.step}>
                {i > 0 && "; then "}
                <b>{d.title}</b>, saves {minutes(d.minutes)} ({d.costs.toLowerCase().replace(/\.$/, "")})
              </span>
            ))}
            .
          </li>
        )}
        <li className={warnings.length ? "pl-7" : ""}>{plan.scope}</li>
        {(plan.branches ?? []).map((o) => (
          <li key={o.step} className={warnings.length ? "pl-7" : ""}>
            Asked in the work: <b>{o.text}</b> {sentence(o.expect)} is expected; {o.expect === "no" ? "on yes" : "on no"} it takes{" "}
            <b className="num">{minutes(o.expect === "no" ? o.yes : o.no)}</b> instead of{" "}
            <b className="num">{minutes(o.expect === "no" ? o.no : o.yes)}</b>
            {o.adds.length > 0 && `: ${o.adds.join(", ")}`}.
          </li>
        ))}
      </ul>
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_25rem]">
        <Panel title={plural(plan.steps.length, "step")} className="p-3!">
          <ol>
            {plan.steps.map((s, i) => (
              <li key={s.id}>
                {heading(s) !== heading(plan.steps[i - 1]) && (
                  <p className="mt-2 px-2 text-sm font-bold text-faded first:mt-0">{heading(s)}</p>
                )}
                <StepRow s={s} active={s.id === current?.id} onPick={() => onStep(s.id)} />
              </li>
            ))}
          </ol>
          {plan.out.length > 0 && (
            <details className="mt-3 px-2">
              <summary className="font-semibold text-tide">{plural(plan.out.length, "step")} left out, and why</summary>
              <ul className="mt-1.5 space-y-1.5">
                {plan.out.map((o) => (
                  <li key={o.id}>
                    <b>{o.title}</b> <span className="text-faded">{o.because}</span>
                  </li>
                ))}
              </ul>
            </details>
          )}
        </Panel>
        {current && (
          <div className="lg:sticky lg:top-4 lg:self-start">
            <Detail s={current} view={view} />
          </div>
        )}
      </div>
    </>
  );
}

function StepRow({ s, active, onPick }: { s: FilledStep; active: boolean; onPick: () => void }) {
  const q = useQuantities();
  return (
    <button
      type="button"
      aria-pressed={active}
      onClick={onPick}
      className={`grid w-full grid-cols-[1fr_auto] gap-x-3 rounded-lg px-2 py-1.5 text-left ${active ? "bg-tide-wash" : "hover:bg-chalk"}`}
    >
      <span className={s.if && !s.if.expected ? "text-faded" : "font-semibold"}>
        {s.part && s.part.over !== "wheels" ? s.whole : s.title}
        {s.if && ` · only after ${s.if.says} to “${s.if.text}”`}
      </span>
      <span className="num text-right whitespace-nowrap">{minutes(s.minutes)}</span>
      <span className="col-span-2 text-sm text-faded">
        {[
          s.mix && `${q.volume(s.mix.ml)} ${s.mix.product} (${q.ratio(s.mix.readings)})`,
          s.dwell && `works ${seconds(s.dwell.from)} to ${seconds(s.dwell.to)}${s.dwell.shortened ? ", shortened by drying" : ""}`,
          s.panels &&
            (s.panels.rinses > 0 ? `rinse the mitt every ${s.panels.perMitt} panels, the car every ${s.panels.perRinse}` : s.cloth),
        ]
          .filter(Boolean)
          .join(" · ") || s.because}
      </span>
    </button>
  );
}

/** What stands over a step: its stage, or in a round the part of the car that is done. Wheels need no more than the round. */
function heading(s: FilledStep | undefined) {
  if (!s?.part) return s?.stage;
  return s.part.over === "wheels" ? s.part.title : partWords(s.part);
}

function Detail({ s, view }: { s: FilledStep; view: Schemas["PlanView"] }) {
  const q = useQuantities();
  const holders = s.skill ? (view.holders[s.skill] ?? []) : [];
  return (
    <Panel title={s.title} aside={<span className="num">{minutes(s.minutes)}</span>}>
      {s.zones.length > 0 && <Car body={view.booking.spec.body} lit={s.zones} grades={view.lookOver.grades} className="mb-2 max-h-64" />}
      <p className="text-base">{s.text}</p>
      <p className="mt-2 border-l-4 border-tide pl-3">{s.because}</p>
      <dl className="mt-3 grid grid-cols-[6.5rem_1fr] gap-x-3 gap-y-1.5">
        {s.mix && (
          <Line name="Mix">
            <b className="num">{q.volume(s.mix.ml)}</b> {s.mix.product} + <b className="num">{q.volume(s.mix.water)}</b> water in the{" "}
            {s.mix.vessel}
            {s.mix.counts && <span className="block">Count in {s.mix.counts}.</span>}
            {(s.added ?? []).map((a) => (
              <span key={a.class} className="block">
                and <b className="num">{q.volume(a.ml)}</b> {a.product} ({a.counts})
              </span>
            ))}
            {s.mix.takes !== undefined && s.mix.takes < s.mix.ml + s.mix.water - 1 && (
              <span className="block">
                This step takes <b className="num">{q.volume(s.mix.takes)}</b>; <b className="num">{q.volume(s.mix.left ?? 0)}</b> are left
                after the wash, good for the next.
              </span>
            )}
            <span className="block text-sm text-faded">
              <Ratio readings={s.mix.readings} note={`The label reads “${s.mix.reading}”.`} />
            </span>
          </Line>
        )}
        {s.dwell && (
          <Line name="Works">
            <b className="num">
              {seconds(s.dwell.from)} to {seconds(s.dwell.to)}
            </b>
            {s.dwell.each && ", wheel by wheel"}
            {s.dwell.shortened && (
              <span className="block text-sm text-amber-ink">
                Shortened from {seconds(s.dwell.full)}: it stays wet {seconds(s.dwell.window)} here.
              </span>
            )}
            {s.dwell.sections > 1 && <span className="block font-semibold">Do it in {s.dwell.sections} parts, or the first dries.</span>}
            {s.dwell.cue && <span className="block text-sm text-faded">{s.dwell.cue}</span>}
          </Line>
        )}
        {s.panels && (
          <Line name="Panels">
            {s.panels.perFace} a face, {s.panels.perMitt} before the {s.panels.rinses ? "mitt is rinsed" : "next towel"};{" "}
            {plural(s.panels.perRinse, "panel")} before the car is rinsed
          </Line>
        )}
        {s.drawn ? (
          <Line name="Takes">
            <b className="num">{q.volume(s.drawn.takes)}</b> out of the {s.drawn.vessel}, mixed before
          </Line>
        ) : (
          s.product && (
            <Line name="Product">
              {s.product}, as it comes{s.taken ? `: ${q.volume(s.taken)}` : ""}
            </Line>
          )
        )}
        {s.water && <Line name="Water">{sentence(s.water)}</Line>}
        {s.tool && <Line name="Tool">{s.tool}</Line>}
        {s.cloth && (
          <Line name="Cloth">
            {s.cloth}
            {s.colour && ` (${s.colour})`}
          </Line>
        )}
        {s.area > 0 && <Line name="Area">{q.area(s.area)}</Line>}
        {s.skill && <Line name="Skill">{`${sentence(s.skill)}: ${holders.length ? holders.join(", ") : "nobody yet"}`}</Line>}
        {s.lookFor && <Line name="Done when">{s.lookFor}</Line>}
      </dl>
      {(s.cautions ?? []).length > 0 && (
        <ul className="mt-3 space-y-1 rounded-xl bg-amber-wash p-3">
          {s.cautions?.map((c) => (
            <li key={c} className="flex gap-2">
              <AlertTriangle size={17} className="mt-0.5 shrink-0" aria-hidden />
              {c}
            </li>
          ))}
        </ul>
      )}
      {s.contact && <MittMoves contact={s.contact} />}
      <Origins figures={s.figures} />
    </Panel>
  );
}

function Line({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <>
      <dt className="font-semibold text-faded">{name}</dt>
      <dd>{children}</dd>
    </>
  );
}

function MittMoves({ contact }: { contact: Schemas["ContactPlan"] }) {
  return (
    <details className="mt-3">
      <summary className="font-semibold text-tide">The mitt, move by move</summary>
      <ol className="mt-1.5 list-decimal space-y-0.5 pl-6 text-sm">
        {contact.moves.map((m, i) => (
          <li key={i}>
            <b>{m.kind === "wash" ? sentence(`${m.share && m.share < 0.995 ? "part of the " : ""}${m.zone}`) : sentence(m.kind)}</b>{" "}
            <span className="text-faded">{contact.reasons[i]}</span>
          </li>
        ))}
      </ol>
    </details>
  );
}
