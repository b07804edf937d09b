import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Ellipsis, Undo2 } from "lucide-react";
import { Popover } from "radix-ui";
import { type FormEvent, useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { useMay } from "../api/shop";
import { Button, Field, inputLook, LinkButton, Trouble } from "../kit/kit";
import { keys, stale } from "../api/keys";

type Card = Schemas["BookingCard"];
type Move = Schemas["Move"];

const words: Record<Move, string> = {
  cancel: "Cancel the booking",
  "did not come": "It did not come",
  "break off": "Stop the wash for good",
  "release without an audit": "Ready without an audit",
  "hand over": "Hand over",
  "come back": "It came back",
  "take back": "Undo",
};

/** What is asked where a reason is read later by somebody else. */
const reasons: Partial<Record<Move, string>> = {
  "break off": "Why it stops",
  "release without an audit": "Why no audit is needed",
  "come back": "What the customer says",
};

/** Says what became of a visit. The usual next thing is a button; the rest is behind the dots; what was said last can be undone. */
export function Say({ b }: { b: Card }) {
  const queries = useQueryClient();
  const may = useMay();
  const [open, setOpen] = useState(false);
  const [asking, setAsking] = useState<Move>();
  const say = useMutation({
    mutationFn: ({ move, why }: { move: Move; why?: string }) =>
      ask(client.POST("/bookings/{id}/moves", { params: { path: { id: b.id } }, body: { move, ...(why && { why }) } })),
    onSuccess: () => {
      setOpen(false);
      setAsking(undefined);
      stale(queries, keys.yard(), keys.day(), keys.audits(), keys.yours(), keys.vehicle());
    },
  });
  const usual = b.stage === "ready" && b.can.includes("hand over") ? "hand over" : undefined;
  const undo = b.can.includes("take back");
  const rest = b.can.filter((m) => m !== "take back" && m !== usual);
  const choose = (move: Move) => (reasons[move] ? setAsking(move) : say.mutate({ move }));
  return (
    <>
      {usual && (
        <Button look="act" disabled={say.isPending} onClick={() => say.mutate({ move: usual })}>
          {words[usual]}
        </Button>
      )}
      {undo && (
        <Button disabled={say.isPending} onClick={() => say.mutate({ move: "take back" })} aria-label={`Undo: ${b.said?.move}, ${b.plate}`}>
          <Undo2 size={17} aria-hidden /> Undo
        </Button>
      )}
      {rest.length > 0 && (
        <Popover.Root
          open={open}
          onOpenChange={(next) => {
            setOpen(next);
            setAsking(undefined);
          }}
        >
          <Popover.Trigger asChild>
            <Button aria-label={`What happened to ${b.plate}`} className="px-2.5!">
              <Ellipsis size={18} aria-hidden />
            </Button>
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              align="end"
              sideOffset={6}
              aria-label={`What happened to ${b.plate}`}
              className="z-30 grid w-64 max-w-[92vw] gap-1.5 rounded-xl border-2 border-line bg-paper p-2.5"
            >
              {asking ? (
                <Reason label={reasons[asking] ?? ""} busy={say.isPending} send={(why) => say.mutate({ move: asking, why })} />
              ) : (
                [
                  may("run the day") && (b.stage === "booked" || b.stage === "looked over") && (
                    <LinkButton key="change" to={`/book/${b.id}`} className="justify-start!">
                      Change the booking
                    </LinkButton>
                  ),
                  ...rest.map((m) => (
                    <Button key={m} className="min-h-hit justify-start!" disabled={say.isPending} onClick={() => choose(m)}>
                      {words[m]}
                    </Button>
                  )),
                ]
              )}
              {say.error && <Trouble error={say.error} />}
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      )}
      {say.error && !open && <Trouble error={say.error} />}
    </>
  );
}

function Reason({ label, busy, send }: { label: string; busy: boolean; send: (why: string) => void }) {
  const [why, setWhy] = useState("");
  const done = (e: FormEvent) => {
    e.preventDefault();
    if (why.trim()) send(why.trim());
  };
  return (
    <form className="grid gap-2" onSubmit={done}>
      <Field label={label}>
        <textarea
          className={`${inputLook} h-auto! py-2`}
          rows={3}
          maxLength={1000}
          value={why}
          onChange={(e) => setWhy(e.target.value)}
          autoFocus
        />
      </Field>
      <Button look="act" type="submit" disabled={busy || !why.trim()}>
        Say so
      </Button>
    </form>
  );
}
