import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { type Schemas, ask, client } from "./client";
import { keys, stale } from "./keys";
import { useMe } from "./shop";
import { Button, LinkButton, Select, Trouble } from "../kit/kit";
import { say } from "../kit/notice";

type Kind = Schemas["Blind"];

/** Asks for a blind look, takes it, or says no. What is hidden from whom changes with it, so that everything read before is let go of. */
export function useBlind(kind: Kind, of: string) {
  const queries = useQueryClient();
  const onSuccess = () => stale(queries, keys.audits(), keys.audit(of), keys.lookOver(), keys.yard());
  const askFor = useMutation({ mutationFn: (personId: string) => ask(client.POST("/blind", { body: { kind, of, personId } })), onSuccess });
  const answer = useMutation({
    mutationFn: (accept: boolean) => ask(client.POST("/blind/answer", { body: { kind, of, accept } })),
    onSuccess,
  });
  return { askFor, answer };
}

interface BlindOfferProps {
  kind: Kind;
  of: string;
  look: Pick<Schemas["OpenSecond"], "person" | "by" | "accepted" | "may" | "mine" | "people">;
  label: string;
  plate: string;
  /** Where it is made. */
  to: string;
}

/** One blind look: whoever may takes it, the lead asks one person, and who was asked says yes or no. */
export function BlindOffer({ kind, of, look, label, plate, to }: BlindOfferProps) {
  const go = useNavigate();
  const me = useMe().data?.id ?? "";
  const { askFor, answer } = useBlind(kind, of);
  const begin = { onSuccess: () => void go(to) };
  const busy = askFor.isPending || answer.isPending;
  const error = askFor.error ?? answer.error;
  return (
    <li className="grid gap-2 rounded-xl border border-line p-3">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <span>
          <b>{label}</b> <span className="num text-faded">{plate}</span>
          {look.person && (
            <span className="block text-sm text-faded">
              {look.mine ? `${look.by === look.person.name ? "You took it" : `${look.by} asks you`}.` : `${look.person.name} was asked.`}
            </span>
          )}
        </span>
        <span className="flex flex-wrap gap-2">
          {look.may && (
            <Button look="act" disabled={busy} onClick={() => askFor.mutate(me, begin)}>
              I look again
            </Button>
          )}
          {look.mine &&
            (look.accepted ? (
              <LinkButton look="act" to={to}>
                Go on
              </LinkButton>
            ) : (
              <Button look="act" disabled={busy} onClick={() => answer.mutate(true, begin)}>
                Yes, I look
              </Button>
            ))}
          {look.mine && (
            <Button disabled={busy} onClick={() => answer.mutate(false, { onSuccess: () => say("You are not asked for this any more.") })}>
              No
            </Button>
          )}
        </span>
      </div>
      {look.people.length > 0 && <Ask people={look.people} ask={(id) => askFor.mutate(id)} busy={busy} of={label} />}
      {error && <Trouble error={error} />}
    </li>
  );
}

function Ask({ people, ask, busy, of }: { people: Schemas["PersonRef"][]; ask: (id: string) => void; busy: boolean; of: string }) {
  const [who, setWho] = useState("");
  return (
    <div className="flex flex-wrap items-center gap-2">
      <Select
        value={who}
        onChange={setWho}
        label={`Who looks again at ${of}`}
        options={[{ value: "", label: "Ask somebody" }, ...people.map((p) => ({ value: p.id, label: p.name }))]}
      />
      <Button disabled={busy || !who} onClick={() => ask(who)}>
        Ask
      </Button>
    </div>
  );
}
