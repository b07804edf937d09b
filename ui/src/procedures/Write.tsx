import { useMutation, useQuery } from "@tanstack/react-query";
import { AlertTriangle, OctagonX, Redo2, Undo2 } from "lucide-react";
import { useDeferredValue, useEffect, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { plural } from "../kit/format";
import { Button, Head, inputLook, LinkButton, Loading, Panel, Tag, type Tone, Trouble } from "../kit/kit";
import { Outline } from "./Outline";
import { Publish } from "./Publish";
import { StepForm } from "./StepForm";
import { Trial, useTrial } from "./Trial";
import { type DraftHandle, type Saving, useDraft, useTried } from "./useDraft";
import { WholeForm } from "./WholeForm";
import { stepsOf } from "./words";
import { keys } from "../api/keys";

type Mistake = Schemas["Mistake"];

/** Writing a procedure: steps in the order of the work, read by the sense check and tried on a vehicle while one types. */
export function Write() {
  const { id = "" } = useParams();
  const view = useQuery({
    queryKey: keys.procedure(id),
    queryFn: () => ask(client.GET("/procedures/{id}", { params: { path: { id } } })),
    staleTime: Infinity,
  });
  if (view.isPending) return <Loading what="the draft" />;
  if (!view.data) return <Trouble error={view.error} retry={() => void view.refetch()} />;
  if (!view.data.draft)
    return (
      <div className="grid justify-items-start gap-3">
        <p>There is no draft of it.</p>
        <LinkButton to={`/procedures/${id}`}>To the procedure</LinkButton>
      </div>
    );
  return <Desk id={id} draft={view.data.draft} newest={view.data.versions[0]?.version ?? 0} />;
}

const savingWords: Record<Saving, [string, Tone]> = {
  saved: ["Saved", "moss"],
  typing: ["Not saved yet", "plain"],
  saving: ["Saving", "plain"],
  waiting: ["Kept on this device", "amber"],
  refused: ["Not saved", "rust"],
};

function Desk({ id, draft, newest }: { id: string; draft: Schemas["DraftView"]; newest: number }) {
  const hand = useDraft(id, { revision: draft.revision, doc: draft.procedure });
  const { doc, change, undo, redo, saving, trouble } = hand;
  const [asked] = useSearchParams();
  const [selected, setSelected] = useState(asked.get("step") ?? "");
  const trial = useTrial();
  const tried = useTried(useDeferredValue(doc), useDeferredValue(trial.on));
  const before = useTried(draft.procedure, useDeferredValue(trial.on));
  const mistakes = tried.data?.mistakes ?? [];
  const step = stepsOf(doc).find((s) => s.id === selected);
  const errors = mistakes.filter((m) => m.severity === "error").length;
  const [asking, setAsking] = useState(false);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "z") return;
      e.preventDefault();
      if (e.shiftKey) redo?.();
      else undo?.();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [undo, redo]);
  const [word, tone] = savingWords[saving];
  return (
    <>
      <Head
        title={`Writing: ${doc.title || id}`}
        sub={
          <span role="status" className="inline-flex items-center gap-2">
            <Tag tone={tone}>{word}</Tag> {draft.basedOn ? `from version ${draft.basedOn}` : "a new procedure"}
          </span>
        }
      >
        <Button onClick={undo} disabled={!undo} aria-label="Undo">
          <Undo2 size={18} aria-hidden />
        </Button>
        <Button onClick={redo} disabled={!redo} aria-label="Redo">
          <Redo2 size={18} aria-hidden />
        </Button>
        <Ends id={id} hand={hand} errors={errors} published={newest > 0} onPublish={() => setAsking(true)} />
      </Head>
      {asking && errors === 0 && <Publish id={id} hand={hand} newest={newest} close={() => setAsking(false)} />}
      {trouble && saving === "refused" && (
        <div className="mb-3 grid gap-2">
          <Trouble error={trouble} />
          {trouble.stale && (
            <div className="flex gap-2">
              <Button onClick={() => void hand.takeTheirs()}>Take theirs; undo brings mine back</Button>
              <Button onClick={() => void hand.overwrite()}>Save mine over it</Button>
            </div>
          )}
        </div>
      )}
      <div className="grid items-start gap-4 lg:grid-cols-[16rem_minmax(0,1fr)] xl:grid-cols-[16rem_minmax(0,1fr)_20rem]">
        <div className="lg:sticky lg:top-4 lg:max-h-[calc(100dvh-2rem)] lg:overflow-auto">
          <Outline
            doc={doc}
            selected={selected}
            onSelect={setSelected}
            change={change}
            mistakes={mistakes}
            applies={tried.data?.applies ?? {}}
            yard={tried.data?.yard ?? 0}
          />
        </div>
        <Panel title={step ? step.title || "(no title)" : "The procedure itself"}>
          {step && tried.data?.when[step.id] && (
            <p className="mb-2">
              <Tag tone="tide">if</Tag> {tried.data.when[step.id]}
            </p>
          )}
          {step && <Here mistakes={mistakes.filter((m) => m.step === step.id)} />}
          {step ? (
            <StepForm key={step.id} doc={doc} step={step} change={change} onSelect={setSelected} />
          ) : (
            <WholeForm doc={doc} change={change} />
          )}
        </Panel>
        <div className="grid content-start gap-4 lg:col-start-2 xl:sticky xl:top-4 xl:col-start-auto xl:max-h-[calc(100dvh-2rem)] xl:overflow-auto">
          <Check mistakes={mistakes} title={(s) => stepsOf(doc).find((x) => x.id === s)?.title ?? s} onPick={setSelected} change={change} />
          <Trial
            trial={trial}
            tried={tried.data}
            before={before.data}
            title={(s) => stepsOf(doc).find((x) => x.id === s)?.title ?? s}
            onPick={setSelected}
          />
        </div>
      </div>
    </>
  );
}

function Here({ mistakes }: { mistakes: Mistake[] }) {
  return mistakes
    .filter((m) => !m.waived)
    .map((m) => (
      <p
        key={m.rule}
        className={`mb-2 rounded-lg border-l-4 px-3 py-1.5 ${m.severity === "error" ? "border-rust bg-rust-wash" : "border-amber bg-amber-wash"}`}
      >
        <b>{m.says}</b> {m.reason}
      </p>
    ));
}

/** The sense check: what an old hand would say, with a jump to the step. */
function Check({
  mistakes,
  title,
  onPick,
  change,
}: {
  mistakes: Mistake[];
  title: (step: string) => string;
  onPick: (step: string) => void;
  change: DraftHandle["change"];
}) {
  const [waiving, setWaiving] = useState("");
  const [reason, setReason] = useState("");
  const key = (m: Mistake) => `${m.rule} ${m.step ?? ""}`;
  const waive = (m: Mistake) => {
    change((p) => ({
      ...p,
      waivers: [...(p.waivers ?? []), { rule: m.rule, reason: reason.trim(), ...(m.step ? { step: m.step } : {}) }],
    }));
    setWaiving("");
    setReason("");
  };
  const unwaive = (m: Mistake) =>
    change((p) => ({ ...p, waivers: (p.waivers ?? []).filter((w) => !(w.rule === m.rule && (w.step ?? "") === (m.step ?? ""))) }));
  const errors = mistakes.filter((m) => m.severity === "error").length;
  const open = mistakes.filter((m) => !m.waived).length;
  return (
    <Panel
      title="Sense check"
      aside={open === 0 ? <Tag tone="moss">clean</Tag> : `${plural(errors, "error")}, ${plural(open - errors, "warning")}`}
    >
      <ul className="grid gap-2">
        {mistakes.map((m, i) => {
          const Icon = m.severity === "error" ? OctagonX : AlertTriangle;
          return (
            <li key={`${key(m)} ${i}`} className={m.waived ? "text-faded" : ""}>
              <button type="button" className="flex w-full gap-2 text-left hover:underline" onClick={() => onPick(m.step ?? "")}>
                <Icon
                  size={17}
                  className={`mt-0.5 shrink-0 ${m.waived ? "" : m.severity === "error" ? "text-rust" : "text-amber-ink"}`}
                  aria-label={m.severity}
                />
                <span>
                  {m.step && <b>{title(m.step)}: </b>}
                  {m.says}
                </span>
              </button>
              <p className="pl-6 text-sm text-faded">
                {m.waived ? `Let stand: ${m.waived} ` : `${m.reason} `}
                {m.severity === "warning" && (
                  <Button look="quiet" className="min-h-8 px-0! text-sm" onClick={() => (m.waived ? unwaive(m) : setWaiving(key(m)))}>
                    {m.waived ? "Warn again" : "Let it stand"}
                  </Button>
                )}
              </p>
              {waiving === key(m) && !m.waived && (
                <form
                  className="mt-1 flex gap-2 pl-6"
                  onSubmit={(e) => {
                    e.preventDefault();
                    if (reason.trim()) waive(m);
                  }}
                >
                  <input
                    aria-label="Why it may stand"
                    className={inputLook}
                    value={reason}
                    maxLength={400}
                    autoFocus
                    placeholder="Why it may stand"
                    onChange={(e) => setReason(e.target.value)}
                  />
                  <Button type="submit" disabled={!reason.trim()}>
                    Save
                  </Button>
                </form>
              )}
            </li>
          );
        })}
      </ul>
    </Panel>
  );
}

/** Publishing is looked at first; a draft can be let go of. */
function Ends({
  id,
  hand,
  errors,
  published,
  onPublish,
}: {
  id: string;
  hand: DraftHandle;
  errors: number;
  published: boolean;
  onPublish: () => void;
}) {
  const go = useNavigate();
  const drop = useMutation({
    meta: { said: "Draft deleted." },
    mutationFn: () => ask(client.DELETE("/procedures/{id}/draft", { params: { path: { id } } })),
    onSuccess: () => {
      hand.forget();
      void go(published ? `/procedures/${id}` : "/procedures");
    },
  });
  return (
    <>
      <Button onClick={() => drop.mutate()}>Delete the draft</Button>
      <Button look="act" disabled={errors > 0} onClick={onPublish}>
        {errors > 0 ? plural(errors, "error") : "Publish"}
      </Button>
      {drop.error && <Trouble error={drop.error} />}
    </>
  );
}
