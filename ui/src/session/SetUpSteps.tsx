import { AlertTriangle } from "lucide-react";
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { sentence } from "../kit/format";
import { Button, Choice, Field, inputLook, Select, Tick } from "../kit/kit";
import { Count } from "../kit/number";
import { type Draft, usualMachines } from "./setUpDraft";

type Set = (change: Partial<Draft>) => void;

function Text({
  label,
  hint,
  value,
  onChange,
  ...rest
}: {
  label: string;
  hint?: ReactNode;
  value: string;
  onChange: (text: string) => void;
} & Omit<React.InputHTMLAttributes<HTMLInputElement>, "onChange" | "value">) {
  return (
    <Field label={label} hint={hint}>
      <input className={inputLook} value={value} onChange={(e) => onChange(e.target.value)} {...rest} />
    </Field>
  );
}

export function You({ draft, set }: { draft: Draft; set: Set }) {
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <div className="sm:col-span-2">
        <Text
          label="Code from the server"
          hint="The server printed it when it started; look in its log"
          value={draft.code}
          onChange={(code) => set({ code })}
          autoComplete="off"
          autoCapitalize="characters"
          required
        />
      </div>
      <Text
        label="Name of the shop"
        value={draft.shopName}
        onChange={(shopName) => set({ shopName })}
        maxLength={80}
        required
        autoComplete="organization"
      />
      <Text label="Your name" value={draft.name} onChange={(name) => set({ name })} maxLength={80} required autoComplete="name" />
      <Text
        label="Sign-in name"
        hint="Short, for wet hands: letters, digits, dots and dashes"
        value={draft.signIn}
        onChange={(signIn) => set({ signIn })}
        maxLength={40}
        required
        autoComplete="username"
        autoCapitalize="none"
      />
      <Text
        label="Password"
        hint="Ten letters or more: three unrelated words are easy to remember"
        value={draft.password}
        onChange={(password) => set({ password })}
        type="password"
        required
        autoComplete="new-password"
      />
      <Choice
        label="Units"
        value={draft.units}
        onChange={(units) => set({ units })}
        options={[
          { value: "metric", label: "Metric" },
          { value: "us", label: "US" },
        ]}
      />
      <Text label="Currency sign" value={draft.currency} onChange={(currency) => set({ currency })} maxLength={8} required />
      <Field label="Time zone" hint="Where the shop stands">
        <input
          className={inputLook}
          value={draft.timeZone}
          list="set-up-zones"
          maxLength={60}
          required
          onChange={(e) => set({ timeZone: e.target.value })}
        />
        <datalist id="set-up-zones">
          {["UTC", ...Intl.supportedValuesOf("timeZone")].map((z) => (
            <option key={z} value={z} />
          ))}
        </datalist>
      </Field>
      <Text
        label="Latitude, about"
        hint="Degrees north, south with a minus: how high the sun stands. leave empty for 45"
        value={draft.latitude}
        onChange={(latitude) => set({ latitude })}
        inputMode="decimal"
        pattern="-?[0-9]+([.,][0-9]+)?"
      />
    </div>
  );
}

export function Places({
  draft,
  set,
  templates,
  offers,
}: {
  draft: Draft;
  set: Set;
  templates: Schemas["PlaceTemplate"][];
  offers: Schemas["PlaceOffer"][];
}) {
  const change = (i: number, part: Partial<Draft["places"][number]>) =>
    set({ places: draft.places.map((p, k) => (k === i ? { ...p, ...part } : p)) });
  return (
    <div className="grid gap-4">
      <ul className="grid gap-3">
        {draft.places.map((p, i) => {
          const t = templates.find((x) => x.kind === p.kind);
          const offer = offers.find((o) => o.kind === p.kind && o.runoff === p.runoff);
          return (
            <li key={i} className="grid gap-2 rounded-2xl border border-line bg-paper p-3">
              <Text
                label={`Name of place ${i + 1}, ${p.kind}`}
                value={p.name}
                placeholder={t?.name}
                onChange={(name) => change(i, { name })}
                maxLength={80}
              />
              <Tick label="Local rules let wash water run to the drain here" on={p.runoff} onChange={(on) => change(i, { runoff: on })} />
              {offer && (
                <p className={offer.light.length ? "text-sm text-faded" : "flex items-start gap-2 font-semibold"} role="status">
                  {!offer.light.length && <AlertTriangle size={19} className="mt-0.5 shrink-0 text-rust" aria-hidden />}
                  {offer.says}
                </p>
              )}
              {draft.places.length > 1 && (
                <Button className="justify-self-start" onClick={() => set({ places: draft.places.filter((_, k) => k !== i) })}>
                  Take it out
                </Button>
              )}
            </li>
          );
        })}
      </ul>
      <h2>Add another</h2>
      <ul className="grid grid-cols-2 gap-3 lg:grid-cols-4">
        {templates.map((t) => (
          <li key={t.kind} className="flex flex-col rounded-2xl border border-line bg-paper p-3">
            <p className="font-semibold">{t.name}</p>
            <p className="grow text-sm text-faded">{t.says}.</p>
            <Button
              className="mt-2 w-full"
              aria-label={`Add: ${t.name}`}
              onClick={() => {
                const alike = draft.places.filter((p) => p.kind === t.kind).length;
                const name = alike ? `${t.name} ${alike + 1}` : "";
                set({ places: [...draft.places, { kind: t.kind, name, runoff: false }] });
              }}
            >
              Add
            </Button>
          </li>
        ))}
      </ul>
      <Machines draft={draft} set={set} machines={usualMachines(draft, templates)} />
      <p className="text-sm text-faded">
        Ask your town or water company about wash water first: its rules come before anything a program says. Without leave, only washes
        that let nothing run off can be done, and those need shade.
      </p>
    </div>
  );
}

/** Shared machines: the day is laid out so that no more are in use than there are. */
function Machines({ draft, set, machines }: { draft: Draft; set: Set; machines: Schemas["Equipment"][] }) {
  if (machines.length === 0) return null;
  return (
    <>
      <h2>Machines</h2>
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-3">
        {machines.map((m) => (
          <Field key={m.name} label={`${m.name}, how many`}>
            <Count
              whole
              max={20}
              value={draft.machines[m.name] ?? m.count}
              onChange={(n) => set({ machines: { ...draft.machines, [m.name]: n } })}
            />
          </Field>
        ))}
      </div>
    </>
  );
}

export function Supply({ draft, set, units }: { draft: Draft; set: Set; units: Schemas["HardnessUnit"][] }) {
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <Text
        label="Hardness"
        hint="From a strip test or the water company. Left empty, hard water is assumed and plans say so"
        value={draft.hardness}
        onChange={(hardness) => set({ hardness })}
        inputMode="decimal"
        pattern="[0-9]+([.,][0-9]+)?"
      />
      <Field label="In">
        <Select value={draft.unit} onChange={(unit) => set({ unit })} options={units} />
      </Field>
      <Text
        label="Dissolved solids by a meter, mg/l"
        hint="If you have a meter; else it follows from the hardness"
        value={draft.solids}
        onChange={(solids) => set({ solids })}
        inputMode="decimal"
        pattern="[0-9]+([.,][0-9]+)?"
      />
    </div>
  );
}

export function Shelf({ draft, set, classes }: { draft: Draft; set: Set; classes: Schemas["ProductClass"][] }) {
  const toggle = (c: Schemas["ProductClass"]) =>
    set({ shelf: draft.shelf.includes(c) ? draft.shelf.filter((x) => x !== c) : [...draft.shelf, c] });
  return (
    <ul className="grid gap-2 sm:grid-cols-2">
      {classes.map((c) => (
        <li key={c}>
          <Tick
            label={sentence(c)}
            on={draft.shelf.includes(c)}
            onChange={() => toggle(c)}
            className="rounded-xl border-2 border-line bg-paper px-3 has-checked:border-tide has-checked:bg-tide-wash"
          />
        </li>
      ))}
    </ul>
  );
}

export function Ways({ draft, set, questions }: { draft: Draft; set: Set; questions: Schemas["QuestionView"][] }) {
  const answer = (fact: string, value: string) => {
    const rest = Object.fromEntries(Object.entries(draft.pins).filter(([f]) => f !== fact));
    set({ pins: value ? { ...rest, [fact]: value } : rest });
  };
  return (
    <ul className="grid gap-3">
      {questions.map((q) => (
        <li key={q.fact}>
          <fieldset className="rounded-2xl border border-line bg-paper p-3">
            <legend className="px-1 font-semibold">{q.text}</legend>
            {[...q.schools, { value: "", reason: `By the condition. ${sentence(q.default)}.` }].map((s) => (
              <label key={s.value} className="flex min-h-hit items-start gap-3 py-1.5">
                <input
                  type="radio"
                  className="mt-0.5 h-6 w-6 shrink-0"
                  name={q.fact}
                  checked={(draft.pins[q.fact] ?? "") === s.value}
                  onChange={() => answer(q.fact, s.value)}
                />
                <span>
                  {s.value && <b>{sentence(s.value)}. </b>}
                  {s.reason}
                </span>
              </label>
            ))}
          </fieldset>
        </li>
      ))}
    </ul>
  );
}

/** What is told of a service beside its price: how long it may take and what it leaves. */
const serviceSays = (s: Schemas["Service"]) =>
  [s.minutes ? `${s.minutes} min` : "", s.leaves?.length ? `leaves ${s.leaves.join(", ")}` : "all of the car"].filter(Boolean).join("; ");

/** Money by its field: what is left empty is left out of the costs of a plan, and the plan says so. */
function Money({ label, hint, value, onChange }: { label: string; hint?: string; value: string; onChange: (text: string) => void }) {
  return <Text label={label} hint={hint} value={value} onChange={onChange} inputMode="decimal" pattern="[0-9]+([.,][0-9]+)?" />;
}

export function WhatItCosts({ draft, set, services }: { draft: Draft; set: Set; services: Schemas["Service"][] }) {
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <p className="sm:col-span-2">
        Price what you offer; the rest is left out, and can be added later. Without any: the two maintenance washes.
      </p>
      {services.map((s) => (
        <Money
          key={s.id}
          label={`${s.name}, ${draft.currency}`}
          hint={sentence(serviceSays(s))}
          value={draft.prices[s.id ?? ""] ?? ""}
          onChange={(text) => set({ prices: { ...draft.prices, [s.id ?? ""]: text } })}
        />
      ))}
      <h2 className="mt-3 sm:col-span-2">What it costs you</h2>
      <p className="sm:col-span-2">Plans say what a wash costs by these. What is left empty is not counted, and plans say so.</p>
      <Money
        label={`An hour of work, ${draft.currency}`}
        hint="With what comes on top of the wage"
        value={draft.labour}
        onChange={(labour) => set({ labour })}
      />
      <Money label={`Laundering a cloth, ${draft.currency}`} value={draft.launder} onChange={(launder) => set({ launder })} />
      <Money
        label={`A cubic metre of water, ${draft.currency}`}
        hint="With the drain"
        value={draft.cubicMetre}
        onChange={(cubicMetre) => set({ cubicMetre })}
      />
      {draft.shelf.map((c) => (
        <Money
          key={c}
          label={`A litre of ${c}, ${draft.currency}`}
          value={draft.costs[c] ?? ""}
          onChange={(text) => set({ costs: { ...draft.costs, [c]: text } })}
        />
      ))}
    </div>
  );
}
