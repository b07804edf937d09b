import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Check, X } from "lucide-react";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { Problem, type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { plural, sentence } from "../kit/format";
import { Button, Field, Head, LinkButton, Loading, Panel, Tag, Tick, Trouble } from "../kit/kit";
import { Num } from "../kit/number";
import { askKept } from "../offline/kept";
import { Photos } from "../photo/Photos";
import { useAnswers } from "./useAnswers";

type Case = Schemas["CaseView"];
type Judged = Schemas["CaseJudged"];
type Given = Schemas["Given"];

/** Judgement cases, one at a time: three between two cars. */
export function Cases() {
  const queries = useQueryClient();
  const [done, setDone] = useState(0);
  const answers = useAnswers();
  const hand = useQuery({
    queryKey: keys.cases("hand"),
    queryFn: () => askKept("cases in hand", () => ask(client.POST("/cases", {}))),
    staleTime: Infinity, // what is in hand stays until it is answered
  });
  if (hand.isPending) return <Loading what="your cases" />;
  if (!hand.data) return <Trouble error={hand.error} retry={() => void hand.refetch()} />;
  const away = new Set([...answers.waiting, ...answers.late].map((w) => w.id));
  const inHand = hand.data.cases.filter((c) => !away.has(c.id));
  const open = inHand[done];
  const more = () => {
    setDone(0);
    queries.removeQueries({ queryKey: keys.cases("hand") });
    stale(queries, keys.cases());
  };
  return (
    <>
      <Head title="Cases" sub="What would you do? The core works every answer out, and says why.">
        <LinkButton to="/training">Training</LinkButton>
      </Head>
      <div className="mx-auto grid max-w-2xl gap-3">
        {answers.late.map((l) => (
          <Panel key={l.id} title={`${l.title}: ${l.judged.right ? "right" : "not that one"}`}>
            <p>{l.judged.answer.because}</p>
          </Panel>
        ))}
        {answers.waiting.length > 0 && (
          <p role="status" className="text-sm text-faded">
            {`${plural(answers.waiting.length, "answer")} kept on this device: you are told once there is a connection.`}
          </p>
        )}
        {open ? (
          <One key={open.id} of={open} at={`${done + 1} of ${inHand.length}`} later={answers.later} next={() => setDone(done + 1)} />
        ) : (
          <Panel title={`${plural(done + away.size, "case")} done`}>
            <p className="text-lg">What was wrong comes again today in another dress; what was right, later.</p>
            <div className="mt-3 flex flex-wrap gap-2">
              <Button look="act" onClick={more}>
                Three more
              </Button>
              <LinkButton to="/training">Back to training</LinkButton>
            </div>
          </Panel>
        )}
      </div>
    </>
  );
}

interface OneProps {
  of: Case;
  at: string;
  /** Keeps an answer that could not be sent. */
  later: ReturnType<typeof useAnswers>["later"];
  next: () => void;
}

function One({ of, at, later, next }: OneProps) {
  const queries = useQueryClient();
  const [unsure, setUnsure] = useState(false);
  const [picked, setPicked] = useState<number>();
  const began = useRef(0);
  useEffect(() => {
    began.current = performance.now();
  }, []);
  const answer = useMutation({
    mutationFn: async (picked: Given) => {
      const given = { ...picked, unsure, millis: Math.min(3_600_000, Math.round(performance.now() - began.current)) };
      try {
        return await ask(client.POST("/cases/{id}/answer", { params: { path: { id: of.id } }, body: given }));
      } catch (e) {
        if (!(e instanceof Problem) || !e.passing) throw e;
        later({ id: of.id, title: of.title, given });
        return null; // it is told later
      }
    },
    onSuccess: () => stale(queries, keys.cases("records")),
  });
  const judged = answer.data ?? undefined;
  return (
    <Panel
      title={of.title}
      aside={
        <span className="flex items-center gap-2 whitespace-nowrap">
          <Tag tone="tide">{of.skill}</Tag> {at}
        </span>
      }
    >
      <ul className="grid gap-1 rounded-xl bg-chalk p-3 text-lg leading-snug">
        {of.scene.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      {of.photos && <Photos title="What it looks like" photos={of.photos} name={(z) => z} of={of.id} />}
      <h2 className="mt-4 text-xl font-bold">{of.ask}</h2>
      {of.choices ? (
        <div className="mt-3 grid gap-2">
          {of.choices.map((choice, i) => (
            <Button
              key={choice}
              className={`min-h-14! justify-between! text-left! text-lg ${judged ? verdictLook(judged, i, picked) : ""}`}
              disabled={answer.isPending || Boolean(judged)}
              onClick={() => (setPicked(i), answer.mutate({ choice: i }))}
            >
              {choice}
              {judged && i === judged.answer.choice && <Check className="shrink-0 text-moss" aria-label="right" />}
              {judged && i === picked && !judged.right && <X className="shrink-0 text-rust" aria-label="your answer, wrong" />}
            </Button>
          ))}
        </div>
      ) : (
        <NumberAnswer unit={of.unit ?? ""} busy={answer.isPending || Boolean(judged)} give={(number) => answer.mutate({ number })} />
      )}
      {!judged && <Tick label="I am not sure" on={unsure} onChange={setUnsure} className="mt-2" />}
      {answer.error && <Trouble error={answer.error} />}
      {judged && <Verdict of={of} judged={judged} next={next} />}
    </Panel>
  );
}

/** Colour beside the sign: the right answer, and the wrong one that was picked. */
function verdictLook(judged: Judged, i: number, picked: number | undefined) {
  if (i === judged.answer.choice) return "border-moss! bg-moss-wash! opacity-100!";
  return i === picked ? "border-rust! bg-rust-wash! opacity-100!" : "";
}

function NumberAnswer({ unit, busy, give }: { unit: string; busy: boolean; give: (n: number) => void }) {
  const [number, setNumber] = useState<number>();
  const ready = number !== undefined && Number.isFinite(number);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (ready) give(number);
  };
  return (
    <form onSubmit={submit} className="mt-3 flex items-end gap-2">
      <Field label={`Your answer, ${unit}`}>
        <Num value={number} onChange={setNumber} disabled={busy} className="min-h-14 text-xl" />
      </Field>
      <Button look="act" type="submit" disabled={busy || !ready} className="min-h-14!">
        Answer
      </Button>
    </form>
  );
}

function Verdict({ of, judged, next }: { of: Case; judged: Judged; next: () => void }) {
  const { answer, right } = judged;
  return (
    <div className="mt-4 grid gap-2">
      <p role="status" className={`flex items-center gap-2 text-xl font-bold ${right ? "text-moss" : "text-rust"}`}>
        {right ? <Check aria-hidden /> : <X aria-hidden />}
        {right ? "Right" : of.choices ? "Not that one" : "Not quite"}
        {!of.choices && (
          <span className="text-ink">
            : <span className="num">{Number(answer.number.toPrecision(3))}</span> {of.unit}
          </span>
        )}
      </p>
      <p className="text-lg leading-snug">{answer.because}</p>
      {answer.other && <p className="border-l-4 border-line pl-3 leading-snug">{answer.other}</p>}
      <p className="text-sm text-faded">
        {sentence(answer.source)}. It comes again {again(judged.days)}.
      </p>
      <Button autoFocus look="act" className="min-h-14! text-lg" onClick={next}>
        Next
      </Button>
    </div>
  );
}

/** When a kind is asked again, as people say it. */
function again(days: number) {
  return days < 1 ? "today, in another dress" : days === 1 ? "tomorrow" : `in ${days} days`;
}
