import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Schemas } from "../api/client";
import { keys, stale } from "../api/keys";
import { Button, Panel, Tag, Trouble } from "../kit/kit";

/** Who is there today. One tap says that somebody is not: the day is laid out again, and which promises move is said. */
export function Absences({ people }: { people: Schemas["DayPerson"][] }) {
  const queries = useQueryClient();
  const say = useMutation({
    mutationFn: (body: { personId: string; absent: boolean }) => ask(client.PUT("/day/absent", { body })),
    onSuccess: (next) => {
      queries.setQueryData(keys.day(""), next.day);
      stale(queries, keys.yard(), keys.slots(), keys.yours());
    },
  });
  const shifted = say.data?.shifted ?? [];
  return (
    <Panel title="Who is there">
      <ul className="grid gap-1">
        {people.map((p) => (
          <li key={p.person.id} className="flex items-center justify-between gap-2">
            <span>
              {p.person.name} {p.absent && <Tag tone="rust">Not there</Tag>}
            </span>
            <Button
              className="min-h-hit"
              disabled={say.isPending}
              onClick={() => say.mutate({ personId: p.person.id, absent: !p.absent })}
              aria-label={p.absent ? `${p.person.name} is back` : `${p.person.name} is absent today`}
            >
              {p.absent ? "Is back" : "Absent today"}
            </Button>
          </li>
        ))}
      </ul>
      {say.isPending && <p className="mt-2 text-faded">Laying the day out again…</p>}
      {say.error && <Trouble error={say.error} />}
      {say.data && (
        <div role="status" className="mt-2">
          <p className="font-semibold">{shifted.length === 0 ? "No promise moves." : "What that moves:"}</p>
          <ul>
            {shifted.map((s) => (
              <li key={s.id} className={s.missed || s.refused ? "font-semibold text-rust" : ""}>
                {s.says}
              </li>
            ))}
          </ul>
          <p className="text-sm text-faded">What was given to them stays theirs when they are back; until then whoever can does it.</p>
        </div>
      )}
    </Panel>
  );
}
