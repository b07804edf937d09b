import { AlertTriangle, ArrowLeft, CloudUpload, Pause, Play, SkipForward, StickyNote, Undo2 } from "lucide-react";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../api/client";
import { Car } from "../car/Car";
import { clock, hour, minutes, plural, sentence, useQuantities } from "../kit/format";
import { Button, inputLook, LinkButton, Loading, Table, Tag, Trouble } from "../kit/kit";
import { alarm } from "./alarm";
import { project, useWash } from "./taps";

type WashView = Schemas["WashView"];
type State = Schemas["State"];

/** Now, every quarter of a second, on the server's clock. */
function useNow(now: () => number) {
  const [at, setAt] = useState(now);
  useEffect(() => {
    const tick = setInterval(() => setAt(now()), 250);
    return () => clearInterval(tick);
  }, [now]);
  return at;
}

export function Bay() {
  const { id = "" } = useParams();
  const { wash, unsent, trouble, tap, now } = useWash(id);
  const at = useNow(now);
  useAwake();
  if (wash.isPending) return <Loading what="the wash" />;
  if (!wash.data) return <Trouble error={wash.error} retry={() => void wash.refetch()} />;
  const view = wash.data;
  const state = project(view, unsent);
  const refused = trouble && !trouble.passing;
  return (
    <div className="mx-auto flex min-h-dvh max-w-xl flex-col gap-3 p-3 sm:p-4">
      <header className="flex items-center gap-3">
        <Link
          to="/"
          aria-label="Back to the yard"
          className="grid h-[60px] w-[60px] shrink-0 place-items-center rounded-xl border-2 border-line bg-paper"
        >
          <ArrowLeft aria-hidden />
        </Link>
        <div className="min-w-0 grow">
          <p className="truncate text-lg leading-tight font-bold">{view.label}</p>
          <p className="truncate text-sm text-faded">
            <span className="num">{view.plate}</span> · {view.washer.name} · promised {hour(view.promisedAt)}
          </p>
        </div>
        {unsent.length > 0 && (
          <Tag tone="amber">
            <CloudUpload size={15} aria-hidden />
            {plural(unsent.length, "unsent tap")}
          </Tag>
        )}
      </header>
      {refused && <Trouble error={trouble} />}
      {state.finished && !reworkOpen(view, state) ? (
        <Finished view={view} state={state} tap={tap} />
      ) : (
        <Working view={view} state={state} at={at} tap={tap} />
      )}
    </div>
  );
}

const reworkOpen = (view: WashView, state: State) =>
  view.steps.some((s, i) => s.rework && (state.steps[i]?.status ?? "done") !== "done" && state.steps[i]?.status !== "skipped");

/** Keeps the screen on while a wash is open, where the browser allows it. */
function useAwake() {
  useEffect(() => {
    let lock: WakeLockSentinel | undefined;
    const hold = () =>
      void navigator.wakeLock?.request("screen").then(
        (l) => (lock = l),
        () => undefined,
      );
    hold();
    document.addEventListener("visibilitychange", hold);
    return () => {
      document.removeEventListener("visibilitychange", hold);
      void lock?.release();
    };
  }, []);
}

type TapFn = ReturnType<typeof useWash>["tap"];

function Working({ view, state, at, tap }: { view: WashView; state: State; at: number; tap: TapFn }) {
  const id = state.current ?? state.next;
  const step = view.steps.find((s) => s.id === id);
  const did = state.steps.find((s) => s.id === id);
  const filled = view.plan.steps.find((s) => s.id === id);
  const index = view.steps.findIndex((s) => s.id === id);
  const after = view.steps.slice(index + 1).find((s) => state.steps.find((x) => x.id === s.id)?.status === "waiting");
  const [asking, setAsking] = useState<"skip" | "note" | null>(null);
  const dwelling = state.dwelling.filter((d) => d.verdict === "working");
  const holdsUp = dwelling.find((d) => step?.ends?.includes(d.step) && Date.parse(d.earliest) > at);
  const running = did?.status === "running";
  const title = (s: string) => view.steps.find((x) => x.id === s)?.title ?? s;

  if (!step || !did)
    return (
      <>
        <Dwells dwelling={dwelling} at={at} title={title} />
        <div className="grid grow content-center gap-3 text-center">
          <p className="text-2xl font-bold">Every step is done.</p>
          <p className="text-faded">Finish, and the stage times are kept beside the plan.</p>
        </div>
        {view.mayTap && <BigButton onClick={() => void tap({ kind: "finish" })}>Finish the wash</BigButton>}
        {view.mayTap && <Actions>{undoButton(state, tap)}</Actions>}
      </>
    );

  const spent = did.handsOn + (running && did.since ? (at - Date.parse(did.since)) / 1000 : 0);
  const over = spent > step.minutes * 60;
  const forward = () => {
    if (!running) return void tap({ kind: did.status === "paused" ? "resume" : "start", step: step.id });
    const nextWaits = after?.ends?.some((e) => e === step.id || dwelling.some((d) => d.step === e && Date.parse(d.earliest) > at));
    if (!after || nextWaits || step.rework) return void tap({ kind: "done", step: step.id });
    return void tap({ kind: "done", step: step.id }, { kind: "start", step: after.id });
  };

  return (
    <>
      <Space onSpace={view.mayTap && !asking ? forward : undefined} />
      <p className="flex items-baseline justify-between text-faded">
        <span>
          {step.stage} · <span className="num">{index + 1}</span> of <span className="num">{view.steps.length}</span>
        </span>
        <span>{holdsUp ? "" : running ? "" : did.status === "paused" ? "paused" : "not begun"}</span>
      </p>
      <h1 className="text-[1.9rem]">{step.title}</h1>
      {holdsUp ? (
        <p>
          <span className="num block text-[5.2rem] leading-none font-semibold text-amber-ink" aria-hidden>
            {clock((Date.parse(holdsUp.earliest) - at) / 1000)}
          </span>
          {title(holdsUp.step)} is still working: begin at <b className="num">{hour(holdsUp.earliest)}</b>.
        </p>
      ) : (
        <p>
          <span role="timer" className={`num block text-[5.2rem] leading-none font-semibold ${over ? "text-rust" : ""}`}>
            {clock(spent)}
          </span>
          <span className={over ? "font-semibold text-rust" : "text-faded"}>
            {over
              ? `${minutes((spent - step.minutes * 60) / 60)} over the ${minutes(step.minutes)} planned`
              : `of ${minutes(step.minutes)}`}
          </span>
        </p>
      )}
      <Dwells dwelling={dwelling} at={at} title={title} />
      {filled && <Prompts s={filled} />}
      {filled && filled.zones.length > 0 && <Car body={view.spec.body} lit={filled.zones} className="max-h-52" />}
      <div className="grow" />
      {after && (
        <p className="text-lg">
          <span className="text-faded">Next:</span> <b>{after.title}</b> <span className="num text-faded">{minutes(after.minutes)}</span>
        </p>
      )}
      {!view.mayTap && <p className="rounded-xl border-2 border-line p-3">You are watching: {view.washer.name} taps.</p>}
      {view.mayTap && asking && <Ask kind={asking} step={step.id} tap={tap} close={() => setAsking(null)} />}
      {view.mayTap && !asking && (
        <>
          <BigButton onClick={forward} quiet={Boolean(holdsUp)}>
            {running ? "Done" : did.status === "paused" ? "Go on" : holdsUp ? "Begin early" : "Start"}
          </BigButton>
          <Actions>
            {running ? (
              <Action Icon={Pause} label="Pause" onClick={() => void tap({ kind: "pause", step: step.id })} />
            ) : (
              <Action Icon={Play} label="Start" onClick={forward} />
            )}
            <Action Icon={SkipForward} label="Skip" onClick={() => setAsking("skip")} />
            <Action Icon={StickyNote} label="Note" onClick={() => setAsking("note")} />
            {undoButton(state, tap)}
          </Actions>
        </>
      )}
    </>
  );
}

const undoButton = (state: State, tap: TapFn) => (
  <Action
    Icon={Undo2}
    label="Undo"
    disabled={!state.lastTap}
    onClick={() => state.lastTap && void tap({ kind: "undo", undoes: state.lastTap })}
  />
);

/** The space bar, or a pedal that types it, is Done. */
function Space({ onSpace }: { onSpace: (() => void) | undefined }) {
  const latest = useRef(onSpace);
  useEffect(() => {
    latest.current = onSpace;
  });
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.key !== " " || e.repeat || (e.target instanceof HTMLElement && e.target.closest("button, a, input, textarea, select, summary")))
        return;
      e.preventDefault();
      latest.current?.();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return null;
}

function BigButton({ children, onClick, quiet }: { children: ReactNode; onClick: () => void; quiet?: boolean }) {
  return (
    <Button look={quiet ? "plain" : "act"} onClick={onClick} className="min-h-[96px] w-full text-3xl">
      {children}
    </Button>
  );
}

const Actions = ({ children }: { children: ReactNode }) => <div className="grid auto-cols-fr grid-flow-col gap-2">{children}</div>;

function Action({ Icon, label, onClick, disabled }: { Icon: typeof Pause; label: string; onClick: () => void; disabled?: boolean }) {
  return (
    <Button onClick={onClick} disabled={disabled} className="min-h-[64px] flex-col gap-0.5! px-1!">
      <Icon size={22} aria-hidden />
      {label}
    </Button>
  );
}

/** What is working on the car, with the earliest and the latest rinse; warns a minute before and when it is time. */
function Dwells({ dwelling, at, title }: { dwelling: Schemas["Dwelling"][]; at: number; title: (s: string) => string }) {
  const warned = useRef(new Set<string>());
  useEffect(() => {
    for (const d of dwelling)
      for (const [when, times] of [
        [Date.parse(d.latest) - 60_000, 1],
        [Date.parse(d.latest) - 10_000, 3],
      ] as const) {
        const key = `${d.step}${d.since}${times}`;
        if (at >= when && at < when + 20_000 && !warned.current.has(key)) {
          warned.current.add(key);
          alarm(times);
        }
      }
  }, [dwelling, at]);
  return (
    <ul className="grid gap-2">
      {dwelling.map((d) => {
        const [since, earliest, latest] = [Date.parse(d.since), Date.parse(d.earliest), Date.parse(d.latest)];
        const left = (latest - at) / 1000;
        const soon = left < 60;
        const early = at < earliest;
        const full = Math.max(1, latest - since);
        return (
          <li
            key={d.step + d.since}
            role={soon ? "alert" : undefined}
            className={`rounded-xl border-2 p-2.5 ${soon ? "border-rust bg-rust-wash" : "border-amber bg-amber-wash"}`}
          >
            <p className="flex items-baseline justify-between gap-3">
              <b>{title(d.step)} working</b>
              <span className={`num text-2xl font-semibold ${soon ? "text-rust" : ""}`}>
                {left < 0 ? `${clock(-left)} over` : clock(left)}
              </span>
            </p>
            <p className={soon ? "font-semibold text-rust" : ""}>
              {left < 0
                ? "It has dried or passed its label: re-wet, rinse now."
                : soon
                  ? "Rinse now, before it dries."
                  : early
                    ? `Rinse from ${hour(d.earliest)}, in ${clock((earliest - at) / 1000)}; latest ${hour(d.latest)}.`
                    : `Rinse any time before ${hour(d.latest)}.`}
            </p>
            <span className="mt-1.5 block h-2 rounded-full bg-paper" aria-hidden>
              <span
                className="relative block h-full rounded-full bg-amber"
                style={{ width: `${Math.min(100, ((at - since) / full) * 100)}%`, background: soon ? "var(--rust)" : "var(--amber)" }}
              />
              <span className="relative -mt-2.5 block h-3 w-1 bg-moss" style={{ left: `${((earliest - since) / full) * 100}%` }} />
            </span>
          </li>
        );
      })}
    </ul>
  );
}

/** What a washer must know for this step, cautions first. */
function Prompts({ s }: { s: Schemas["Step"] }) {
  const q = useQuantities();
  return (
    <div className="grid gap-2">
      {(s.cautions ?? []).length > 0 && (
        <details className="rounded-xl bg-amber-wash px-2.5" open={(s.cautions ?? []).length === 1}>
          <summary className="flex min-h-[56px] items-center font-semibold">
            <AlertTriangle size={18} className="mr-1.5 inline align-[-3px]" aria-hidden />
            {plural(s.cautions?.length ?? 0, "caution")}
          </summary>
          <ul className="grid gap-1 pb-2.5">
            {s.cautions?.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
        </details>
      )}
      {s.panels && s.panels.rinses > 0 && (
        <p className="text-xl leading-snug font-semibold">
          Flip after <span className="num">{s.panels.perFace}</span> panels, rinse the mitt after{" "}
          <span className="num">{s.panels.perMitt}</span>, the car after <span className="num">{s.panels.perRinse}</span>.
        </p>
      )}
      {s.mix && (
        <p className="text-xl leading-snug font-semibold">
          <span className="num">{q.volume(s.mix.ml)}</span> {s.mix.product} in <span className="num">{q.volume(s.mix.water)}</span> water
        </p>
      )}
      {s.dwell?.each && (
        <p className="font-semibold">
          Leave it <span className="num">{minutes(s.dwell.from / 60)}</span> to <span className="num">{minutes(s.dwell.to / 60)}</span> on
          each.
        </p>
      )}
      {s.dwell && s.dwell.sections > 1 && <p className="font-semibold text-rust">In {s.dwell.sections} parts, or the first dries.</p>}
      <p className="text-lg leading-snug">{s.text}</p>
    </div>
  );
}

const reasons = ["Not needed on this car", "Product ran out", "Machine is down", "No time: lead agreed"];

function Ask({ kind, step, tap, close }: { kind: "skip" | "note"; step: string; tap: TapFn; close: () => void }) {
  const [text, setText] = useState("");
  const send = (t: string) => {
    void tap(kind === "skip" ? { kind, step, text: t } : { kind, step, text: t });
    close();
  };
  return (
    <form
      className="grid gap-2 rounded-xl border-2 border-tide bg-paper p-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (text.trim()) send(text.trim());
      }}
    >
      <p className="text-lg font-semibold">{kind === "skip" ? "Why is it skipped?" : "What did you see?"}</p>
      {kind === "skip" &&
        reasons.map((r) => (
          <Button key={r} className="min-h-[60px]" onClick={() => send(r)}>
            {r}
          </Button>
        ))}
      <input
        aria-label={kind === "skip" ? "Reason" : "Note"}
        className={`${inputLook} min-h-[60px]`}
        value={text}
        maxLength={1000}
        onChange={(e) => setText(e.target.value)}
        placeholder="In your words"
        autoFocus={kind === "note"}
      />
      <div className="grid grid-cols-2 gap-2">
        <Button className="min-h-[60px]" onClick={close}>
          Back
        </Button>
        <Button className="min-h-[60px]" look="act" type="submit" disabled={!text.trim()}>
          {sentence(kind)}
        </Button>
      </div>
    </form>
  );
}

function Finished({ view, state, tap }: { view: WashView; state: State; tap: TapFn }) {
  const planned = view.stages.reduce((sum, s) => sum + s.planned, 0);
  const actual = view.stages.reduce((sum, s) => sum + s.actual, 0);
  const missed = state.dwelling.filter((d) => d.verdict !== "kept");
  return (
    <div className="grid gap-4">
      <h1>Washed. {hour(state.finished ?? "")}</h1>
      <p className="text-lg">
        <b className="num">{minutes(actual)}</b> hands on, against <b className="num">{minutes(planned)}</b> planned.
        {missed.length === 0
          ? " Every dwell was kept."
          : ` ${plural(missed.length, "dwell")} not kept: ${missed.map((d) => `${view.steps.find((s) => s.id === d.step)?.title} ${d.verdict}`).join(", ")}.`}
      </p>
      <Table caption="Stage times against plan" head={["Stage", "Plan", "Was", ""]}>
        {view.stages.map((s) => (
          <tr key={s.stage}>
            <th scope="row">{s.stage}</th>
            <td className="num">{minutes(s.planned)}</td>
            <td className="num">{minutes(s.actual)}</td>
            <td className={`num text-right ${s.actual > s.planned * 1.15 ? "font-semibold text-rust" : "text-faded"}`}>
              {s.actual >= s.planned ? "+" : "−"}
              {minutes(Math.abs(s.actual - s.planned))}
            </td>
          </tr>
        ))}
      </Table>
      {state.notes.length > 0 && (
        <ul className="list-disc pl-5">
          {state.notes.map((n) => (
            <li key={n.at}>{n.text}</li>
          ))}
        </ul>
      )}
      <p className="text-faded">Someone else audits it: whoever washed it does not.</p>
      <div className="grid grid-cols-2 gap-2">
        <LinkButton to="/" className="min-h-[60px]">
          Yard
        </LinkButton>
        <LinkButton to="/audits" look="act" className="min-h-[60px]">
          Audits
        </LinkButton>
      </div>
      {view.mayTap && <Actions>{undoButton(state, tap)}</Actions>}
    </div>
  );
}
