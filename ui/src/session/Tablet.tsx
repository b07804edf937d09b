import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ArrowLeft, Delete } from "lucide-react";
import { useEffect, useState } from "react";
import { ask, client, type Schemas } from "../api/client";
import { become } from "../api/shop";
import { Button, Trouble, useTitle } from "../kit/kit";

type Face = Schemas["TabletFace"];

/** A tablet that people share: tap who you are, then four digits. Everything is large: gloves are wet. */
export function Tablet({ view, onPassword }: { view: Schemas["TabletView"]; onPassword: () => void }) {
  useTitle("Who are you?");
  const [who, setWho] = useState<Face>();
  return (
    <main className="mx-auto grid min-h-dvh max-w-2xl content-center gap-5 p-5">
      <header className="text-center">
        <p className="text-faded">
          {view.shop} · {view.name}
        </p>
        <h1 className="text-3xl">{who ? who.name : "Who are you?"}</h1>
      </header>
      {who ? (
        <Digits key={who.id} who={who} onBack={() => setWho(undefined)} onPassword={onPassword} />
      ) : (
        <>
          <ul className="grid grid-cols-2 gap-3 sm:grid-cols-3">
            {view.people.map((p) => (
              <li key={p.id}>
                <button
                  type="button"
                  onClick={() => setWho(p)}
                  className="flex min-h-24 w-full flex-col items-center justify-center gap-1 rounded-2xl border-2 border-line bg-paper p-2 hover:border-ink"
                >
                  <span aria-hidden className="num grid h-12 w-12 place-items-center rounded-full bg-tide-wash text-xl font-bold">
                    {p.initials}
                  </span>
                  <span className="font-semibold">{p.name}</span>
                </button>
              </li>
            ))}
          </ul>
          <Button look="quiet" className="min-h-14" onClick={onPassword}>
            Sign in by password
          </Button>
        </>
      )}
    </main>
  );
}

const keys = ["1", "2", "3", "4", "5", "6", "7", "8", "9"];

function Digits({ who, onBack, onPassword }: { who: Face; onBack: () => void; onPassword: () => void }) {
  const [digits, setDigits] = useState("");
  const queries = useQueryClient();
  const enter = useMutation({
    mutationFn: (four: string) => ask(client.POST("/session/digits", { body: { personId: who.id, digits: four } })),
    onSuccess: (me) => become(queries, me),
    onError: () => setDigits(""),
  });
  const { mutate, isPending } = enter;
  const press = (digit: string) => {
    if (isPending) return;
    const next = (digits + digit).slice(0, 4);
    setDigits(next);
    if (next.length === 4) mutate(next);
  };
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (/^\d$/.test(e.key)) press(e.key);
      else if (e.key === "Backspace") setDigits((d) => d.slice(0, -1));
      else if (e.key === "Escape") onBack();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
  if (!who.digits)
    return (
      <div className="grid gap-3 text-center">
        <p>You have no four digits yet. Sign in by password once and set them under Settings, You.</p>
        <Button look="act" className="min-h-14" onClick={onPassword}>
          Sign in by password
        </Button>
        <Button className="min-h-14" onClick={onBack}>
          Somebody else
        </Button>
      </div>
    );
  const key = "min-h-18 rounded-2xl border-2 border-line bg-paper text-2xl font-semibold hover:border-ink active:bg-tide-wash";
  return (
    <div className="mx-auto grid w-full max-w-sm gap-4">
      <p role="status" aria-label={`${digits.length} of four digits`} className="flex justify-center gap-4 text-4xl">
        {[0, 1, 2, 3].map((i) => (
          <span key={i} aria-hidden>
            {i < digits.length ? "●" : "○"}
          </span>
        ))}
      </p>
      {enter.error && <Trouble error={enter.error} />}
      <div className="grid grid-cols-3 gap-3">
        {keys.map((k) => (
          <button key={k} type="button" className={`num ${key}`} onClick={() => press(k)}>
            {k}
          </button>
        ))}
        <button type="button" className={`${key} grid place-items-center`} aria-label="Somebody else" onClick={onBack}>
          <ArrowLeft aria-hidden />
        </button>
        <button type="button" className={`num ${key}`} onClick={() => press("0")}>
          0
        </button>
        <button
          type="button"
          className={`${key} grid place-items-center`}
          aria-label="Delete the last digit"
          onClick={() => setDigits(digits.slice(0, -1))}
        >
          <Delete aria-hidden />
        </button>
      </div>
      <Button look="quiet" className="min-h-14" onClick={onPassword}>
        Sign in by password
      </Button>
    </div>
  );
}
