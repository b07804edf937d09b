import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { day, sentence } from "../kit/format";
import { boards } from "./boards";
import { Button, Choice, LinkButton, Panel, Select, Tag, Trouble } from "../kit/kit";

type What = "washing by hand" | "rinseless by hand" | "buckets" | "drying" | "four wheels" | "dwells";

/** What can be practised, and how hard it gets. */
const practices: Record<What, { label: string; about: string; levels: [string, string, string] }> = {
  "washing by hand": {
    label: "Wash a panel",
    about: "You draw the strokes on a panel of a car as it was looked over; each is answered.",
    levels: ["A door", "Bonnet and door", "With the sill"],
  },
  "rinseless by hand": {
    label: "Rinseless",
    about: "The same with towels of eight faces, or a split sponge: a fresh face for every section.",
    levels: ["Towels, a door", "Split sponge", "Towels, with the sill"],
  },
  buckets: {
    label: "Buckets",
    about: "You make three buckets ready by the label, then empty the mitt through a wash.",
    levels: ["Each its colour", "All alike", "Longer, dirtier"],
  },
  drying: {
    label: "Drying",
    about: "A wet car, its towels and the weather of the hour: where do spots stay?",
    levels: ["Flats and a side", "The whole body", "With shuts and wheels"],
  },
  "four wheels": {
    label: "Four wheels",
    about: "A label that allows minutes or seconds, four wheels and one pair of hands.",
    levels: ["Minutes", "A hot wheel", "30 seconds"],
  },
  dwells: {
    label: "Several products",
    about: "What the plan has working on the car at once: keep every dwell and wait little.",
    levels: ["Two at once", "Three", "Four"],
  },
};

/** Starts a drill on a car of yesterday or today, by level; the newest ones to go on with. */
export function StartByHand({ cars }: { cars: Schemas["DrillCar"][] }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const [car, setCar] = useState<string>();
  const [level, setLevel] = useState("1");
  const [what, setWhat] = useState<What>("washing by hand");
  const bookingId = car ?? cars[0]?.bookingId ?? "";
  const runs = useQuery({ queryKey: keys.runs("list"), queryFn: () => ask(client.GET("/drill-runs")) });
  const start = useMutation({
    mutationFn: () => ask(client.POST("/drill-runs", { body: { ...(bookingId && { bookingId }), level: Number(level), what } })),
    onSuccess: (r) => {
      queries.setQueryData(keys.runs(r.id), r);
      stale(queries, keys.runs("list"));
      void go(`/training/by-hand/${r.id}`);
    },
  });
  return (
    <Panel title="Practise by hand">
      <div className="grid gap-2">
        <Choice
          label="What"
          value={what}
          onChange={setWhat}
          options={Object.entries(practices).map(([value, p]) => ({ value: value as What, label: p.label }))}
        />
        <p className="text-faded">{practices[what].about}</p>
        <Choice
          label="How hard"
          value={level}
          onChange={setLevel}
          options={practices[what].levels.map((label, i) => ({ value: String(i + 1), label }))}
        />
        <div className="flex gap-2">
          <Select
            label="Car to practise on"
            value={bookingId}
            onChange={setCar}
            options={[
              ...cars.map((c) => ({ value: c.bookingId, label: `${c.label}, ${c.plate}` })),
              { value: "", label: "The practice car" },
            ]}
          />
          <Button look="act" disabled={start.isPending} onClick={() => start.mutate()}>
            Begin
          </Button>
        </div>
      </div>
      {start.error && <Trouble error={start.error} />}
      <ul className="mt-3 grid gap-1">
        {(runs.data ?? []).slice(0, 5).map((r) => (
          <li key={r.id} className="flex items-center justify-between gap-3 border-t border-line pt-1">
            <LinkButton look="quiet" to={`/training/by-hand/${r.id}`} className="min-h-hit justify-start! px-0! text-left!">
              {`${boards[r.kind].name}: ${r.title}`}
            </LinkButton>
            <span className="text-sm text-faded">
              {r.person.name}, {day(r.startedAt)}
            </span>
            <Tag tone={r.passed ? "moss" : r.finishedAt ? "rust" : "plain"}>
              {sentence(r.passed ? "passed" : r.finishedAt ? "not yet" : "going on")}
            </Tag>
          </li>
        ))}
      </ul>
    </Panel>
  );
}
