import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { day, sentence } from "../kit/format";
import { Button, Choice, Empty, LinkButton, Panel, Select, Tag, Trouble } from "../kit/kit";

/** Starts a drill by hand on a car of yesterday or today, by level; the newest ones to go on with. */
export function StartByHand({ cars }: { cars: Schemas["DrillCar"][] }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const [car, setCar] = useState("");
  const [level, setLevel] = useState("1");
  const bookingId = car || cars[0]?.bookingId || "";
  const runs = useQuery({ queryKey: keys.runs("list"), queryFn: () => ask(client.GET("/drill-runs")) });
  const start = useMutation({
    mutationFn: () => ask(client.POST("/drill-runs", { body: { bookingId, level: Number(level) } })),
    onSuccess: (r) => {
      queries.setQueryData(keys.runs(r.id), r);
      stale(queries, keys.runs("list"));
      void go(`/training/by-hand/${r.id}`);
    },
  });
  return (
    <Panel title="Wash by hand">
      <p className="mb-3 text-faded">
        You draw the strokes on a panel of a car as it was looked over; the core answers each, and at the end sets you beside the plan.
      </p>
      {cars.length === 0 ? (
        <Empty>Look a vehicle over first: a drill is made from one.</Empty>
      ) : (
        <div className="grid gap-2">
          <Choice
            label="How hard"
            value={level}
            onChange={setLevel}
            options={[
              { value: "1", label: "A door" },
              { value: "2", label: "Bonnet and door" },
              { value: "3", label: "With the sill" },
            ]}
          />
          <div className="flex gap-2">
            <Select
              label="Car to wash by hand"
              value={bookingId}
              onChange={setCar}
              options={cars.map((c) => ({ value: c.bookingId, label: `${c.label}, ${c.plate}` }))}
            />
            <Button look="act" disabled={start.isPending} onClick={() => start.mutate()}>
              Wash
            </Button>
          </div>
        </div>
      )}
      {start.error && <Trouble error={start.error} />}
      <ul className="mt-3 grid gap-1">
        {(runs.data ?? []).slice(0, 5).map((r) => (
          <li key={r.id} className="flex items-center justify-between gap-3 border-t border-line pt-1">
            <LinkButton look="quiet" to={`/training/by-hand/${r.id}`} className="min-h-hit justify-start! px-0! text-left!">
              {r.title}
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
