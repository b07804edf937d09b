import { useQuery } from "@tanstack/react-query";
import { ask, client } from "../api/client";
import { keys } from "../api/keys";
import { day } from "../kit/format";
import { LinkButton } from "../kit/kit";

/** Audits whose auditor turned out to have washed: taps of theirs came after the signature. The lead has somebody else look. */
export function WashedToo() {
  const told = useQuery({ queryKey: keys.audits("washed too"), queryFn: () => ask(client.GET("/washed-too")) });
  if (!told.data?.length) return null;
  return (
    <section role="status" className="mb-4 grid gap-2 rounded-xl border-2 border-amber bg-amber-wash p-3">
      <p>
        <b>Whoever audited these had a hand in the wash.</b> Their taps came after the signature. The signed result stays; have somebody
        else look at the car.
      </p>
      <ul className="flex flex-wrap gap-2">
        {told.data.map((a) => (
          <li key={a.id}>
            <LinkButton to={`/audits/${a.id}`}>{`${a.label}, ${a.auditor}, ${day(a.at)}`}</LinkButton>
          </li>
        ))}
      </ul>
    </section>
  );
}
