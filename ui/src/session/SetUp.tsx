import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, Problem, type Schemas } from "../api/client";
import { become } from "../api/shop";
import { Button, Trouble, useTitle } from "../kit/kit";
import { type Draft, firstDraft, keepDraft, recallDraft, dropDraft, asBody, usualMachines } from "./setUpDraft";
import { Places, Shelf, Supply, Ways, WhatItCosts, You } from "./SetUpSteps";

const steps = [
  { title: "The shop and you", says: "What is needed to begin." },
  { title: "Where you wash", says: "Each place decides which procedures may be used there." },
  { title: "Your water", says: "Hard water spots: how soon you must dry depends on it." },
  { title: "What stands on your shelf", says: "By class; what the labels say can follow." },
  { title: "Your ways", says: "Where practitioners disagree. Leave what you are not sure of: the condition of the car then decides." },
  { title: "What you charge, and what it costs you", says: "Services and their prices; work, laundry, water and products." },
] as const;

/** Sets a shop up in an empty database, once. Nothing but the first page must be filled in; everything can be changed later. */
export function SetUp({ view }: { view: Schemas["SetupView"] }) {
  const [at, setAt] = useState(0);
  const [draft, setDraft] = useState<Draft>(() => recallDraft() ?? firstDraft(view.choices?.usual ?? []));
  useEffect(() => keepDraft(draft), [draft]);
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    if (at > 0) heading.current?.focus(); // each page begins at its head
    window.scrollTo(0, 0);
  }, [at]);
  const queries = useQueryClient();
  const go = useNavigate();
  const save = useMutation({
    mutationFn: () => ask(client.POST("/setup", { body: asBody(draft, usualMachines(draft, view.choices?.places ?? [])) })),
    onSuccess: (me) => {
      dropDraft();
      become(queries, me);
      void go("/first");
    },
    onError: (error) => {
      if (error instanceof Problem) setAt(stepOf(error));
    },
  });
  useTitle(`${(steps[at] ?? steps[0]).title}, setting up`);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (at < steps.length - 1) setAt(at + 1);
    else save.mutate();
  };
  const set = (change: Partial<Draft>) => setDraft((d) => ({ ...d, ...change }));
  const step = steps[at] ?? steps[0];
  return (
    <main className="mx-auto max-w-3xl p-5">
      <header className="mb-4">
        <p className="flex items-center gap-2 text-faded">
          <img src="/mark.svg" alt="" className="h-7 w-7" /> Uskel · setting up, {at + 1} of {steps.length}
        </p>
        <h1 ref={heading} tabIndex={-1} className="outline-none">
          {step.title}
        </h1>
        <p className="text-faded">{step.says}</p>
        <progress className="mt-2 w-full accent-(--tide)" max={steps.length} value={at + 1} aria-label="How far setting up has come" />
      </header>
      <form onSubmit={submit} className="grid gap-4">
        {at === 0 && <You draft={draft} set={set} />}
        {at === 1 && <Places draft={draft} set={set} templates={view.choices?.places ?? []} offers={view.choices?.offers ?? []} />}
        {at === 2 && <Supply draft={draft} set={set} units={view.choices?.hardnessUnits ?? []} />}
        {at === 3 && <Shelf draft={draft} set={set} classes={view.choices?.classes ?? []} />}
        {at === 4 && <Ways draft={draft} set={set} questions={view.questions} />}
        {at === 5 && <WhatItCosts draft={draft} set={set} services={view.choices?.services ?? []} />}
        {save.error && <Trouble error={save.error} />}
        <div className="sticky bottom-0 flex gap-3 border-t border-line bg-chalk py-3">
          {at > 0 && (
            <Button className="min-h-14" onClick={() => setAt(at - 1)}>
              Back
            </Button>
          )}
          <Button look="act" type="submit" disabled={save.isPending} className="min-h-14 grow text-lg">
            {at < steps.length - 1 ? "Next" : save.isPending ? "Setting up…" : "Set the shop up"}
          </Button>
        </div>
      </form>
    </main>
  );
}

/** On which page a refusal's first field stands. */
function stepOf(error: Problem): number {
  const field = error.fields[0]?.location ?? "";
  const page: Record<string, number> = {
    places: 1,
    machines: 1,
    water: 2,
    shelf: 3,
    pins: 4,
    prices: 5,
    labour: 5,
    launder: 5,
    cubicMetre: 5,
    costs: 5,
  };
  return page[field.split(/[.[]/)[0] ?? ""] ?? 0;
}
