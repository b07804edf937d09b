import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ask, client } from "../api/client";
import { keys } from "../api/keys";
import { plural } from "../kit/format";
import { Button, Trouble } from "../kit/kit";

/** What changed in the procedure since whoever washes last did it: read and confirmed before the work. */
export function Changed({ wash }: { wash: string }) {
  const queries = useQueryClient();
  const path = { params: { path: { id: wash } } };
  const changed = useQuery({ queryKey: keys.changed(wash), queryFn: () => ask(client.GET("/washes/{id}/changed", path)), retry: false });
  const confirm = useMutation({
    mutationFn: () => ask(client.POST("/washes/{id}/changed", path)),
    onSuccess: (now) => queries.setQueryData(keys.changed(wash), now),
  });
  const c = changed.data;
  if (!c || c.was === 0) return null; // without a connection there is nothing to confirm
  return (
    <section className="mb-3 grid gap-2 rounded-2xl border-2 border-amber bg-amber-wash p-3" aria-label="What changed">
      <p className="font-bold">{`${c.title} has changed since you last did it`}</p>
      <ul className="grid list-disc gap-0.5 pl-5">
        {c.lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      {c.more > 0 && <p className="text-sm">{`And ${plural(c.more, "further change")}, in the procedure.`}</p>}
      {confirm.error && <Trouble error={confirm.error} />}
      <Button className="min-h-14! justify-self-start" disabled={confirm.isPending} onClick={() => confirm.mutate()}>
        I have read it
      </Button>
    </section>
  );
}
