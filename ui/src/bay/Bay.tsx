import { partWords } from "../kit/rounds";
import { closing } from "./closing";
import { ArrowLeft, CloudUpload, Ellipsis, LifeBuoy, Pause, Undo2 } from "lucide-react";
import { type ReactNode, useCallback, useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { Car } from "../car/Car";
import { clock, hour, minutes, plural } from "../kit/format";
import { Button, Loading, Tag, Trouble, useTitle } from "../kit/kit";
import { useAwake, useKeys, useSpoken } from "./device";
import { Changed } from "./Changed";
import { Dwells } from "./Dwells";
import { Finds } from "./Finds";
import { Looks } from "./Looks";
import { Finished } from "./Finished";
import { Mitt, useMitt } from "./Mitt";
import { type Asked, More, Question } from "./More";
import { Prompts } from "./Prompts";
import { LeftOpen, Questions, StillOpen, StillThere, WhereNow } from "./Seen";
import { letGo } from "../offline/queue";
import { RestLine, RestRibbon } from "./Rest";
import { type State, type Tapping, useWash, type WashView } from "./useWash";

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
  const { wash, view, state, lane, whose, undoes, me, unsent, refused, trouble, tap, now } = useWash(id);
  const at = useNow(now);
  useTitle(view ? `Bay: ${view.label}` : "Bay");
  useAwake();
  if (wash.isPending) return <Loading what="the wash" />;
  if (!view || !state || !lane) return <Trouble error={wash.error} retry={() => void wash.refetch()} />;
  const away = unsent.filter((t) => t.who !== me).length;
  return (
    <>
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
        {trouble && !trouble.passing && <Trouble error={trouble} />}
        {!view.closed && view.crew.some((p) => p.id === me) && <Changed wash={id} />}
        {away > 0 && (
          <p className="rounded-xl border-2 border-line p-3">
            {plural(away, "tap")} of somebody else wait here until they sign in on this device.
          </p>
        )}
        {refused.map((t) => (
          <div key={t.id} role="alert" className="rounded-xl border-2 border-rust bg-rust-wash p-3">
            <p>
              <b>Refused: {t.kind}</b> at {hour(t.at)}. {t.refused}
            </p>
            <Button className="mt-2 min-h-[56px]" onClick={() => void letGo(t.id)}>
              OK, read
            </Button>
          </div>
        ))}
        <Help view={view} state={state} me={me} tap={tap} />
        {!state.finished && <Finds view={view} state={state} tap={tap} />}
        {state.finished && !reworkOpen(view, state) ? (
          <Finished view={view} state={state} tap={tap} undoes={undoes} />
        ) : (
          <Working view={view} state={state} lane={lane} whose={whose} at={at} tap={tap} undoes={undoes} />
        )}
      </div>
      {state.started && !state.finished && <RestRibbon id={view.id} taps={view.events.length} at={at} />}
    </>
  );
}

const reworkOpen = (view: WashView, state: State) =>
  view.steps.some((s, i) => s.rework && (state.steps[i]?.status ?? "done") !== "done" && state.steps[i]?.status !== "skipped");

/** Somebody asked for help here: everybody on the car sees it until somebody has come. */
function Help({ view, state, me, tap }: { view: WashView; state: State; me: string; tap: Tapping }) {
  if (!state.help) return null;
  const mine = state.help.by === me;
  const name = [...view.crew, ...view.people].find((p) => p.id === state.help?.by)?.name;
  return (
    <div role="status" className="flex items-center gap-3 rounded-xl border-2 border-rust bg-rust-wash p-2.5">
      <LifeBuoy className="shrink-0 text-rust" aria-hidden />
      <p className="grow leading-tight font-semibold">
        {mine ? "Help is asked for: the yard sees it." : `${name ?? "Somebody"} asks for help.`}
      </p>
      <Button className="min-h-[56px]" onClick={() => void tap({ kind: "helped" })}>
        {mine ? "Helped" : "I am here"}
      </Button>
    </div>
  );
}

interface WorkingProps {
  view: WashView;
  state: State;
  at: number;
  tap: Tapping;
  lane: { step?: string; after: string[] };
  /** Whose lane it is. */
  whose: string;
  undoes: string | undefined;
}

function Working({ view, state, lane, whose, at, tap, undoes }: WorkingProps) {
  const step = view.steps.find((s) => s.id === lane.step);
  const after = lane.after.flatMap((id) => view.steps.find((s) => s.id === id) ?? []);
  const did = state.steps.find((s) => s.id === step?.id);
  const filled = view.plan.steps.find((s) => s.id === step?.id);
  const [asked, setAsked] = useState<Asked | "more" | "where" | null>(null);
  const dwelling = state.dwelling.filter((d) => d.verdict === "working");
  const running = did?.status === "running";
  const holdsUp = running ? undefined : dwelling.find((d) => step?.ends?.includes(d.step) && Date.parse(d.earliest) > at && !d.dried);
  const title = useCallback((s: string) => view.steps.find((x) => x.id === s)?.title ?? s, [view.steps]);
  const mitt = useMitt(view, did);
  /** Leaves what is in hand for the step that takes a product off. */
  const rinse = (of: string) => {
    const off = view.steps.find((s) => s.ends?.includes(of) && state.steps.find((x) => x.id === s.id)?.status === "waiting");
    if (!view.mayTap || !off) return undefined;
    return () => void tap(...(running && step ? [{ kind: "pause" as const, step: step.id }] : []), { kind: "start", step: off.id });
  };
  const touching = Boolean(running && filled?.panels && mitt.list.length > 0);
  const next = after[0];

  const forward = () => {
    if (!step || !did) return void (state.open.length === 0 && tap({ kind: "finish" }));
    if (!running) return void tap({ kind: did.status === "paused" ? "resume" : "start", step: step.id });
    const waits = next?.ends?.some((e) => e === step.id || dwelling.some((d) => d.step === e && Date.parse(d.earliest) > at));
    if (!next || waits || step.rework || next.looks?.length) return void tap({ kind: "done", step: step.id });
    return void tap({ kind: "done", step: step.id }, { kind: "start", step: next.id });
  };
  const closes = closing(view, state, step);
  const silent = running && did?.askAt !== undefined && at >= Date.parse(did.askAt);
  const rinsed = touching && mitt.due && step ? () => void tap({ kind: "rinsed", step: step.id }) : undefined;
  const undo = undoes ? () => void tap({ kind: "undo", undoes }) : undefined;
  const pause = running && step ? () => void tap({ kind: "pause", step: step.id }) : undefined;
  const keys =
    view.mayTap && !asked
      ? { " ": forward, r: rinsed, p: pause, u: undo, h: state.help ? undefined : () => void tap({ kind: "help" }) }
      : {};
  useKeys(keys, view.mayTap && !asked ? (rinsed ?? forward) : undefined);
  useSpoken(running && step ? `${step.title}. ${minutes(step.minutes)}.` : "");
  const spent = did ? did.handsOn + (running && did.since ? Math.max(0, at - Date.parse(did.since)) / 1000 : 0) : 0;
  const over = step !== undefined && spent > step.minutes * 60;
  useSpoken(running && over && step ? `${step.title}: the planned time is up.` : "");

  const undoButton = <Action Icon={Undo2} label="Undo" disabled={!undo} onClick={() => undo?.()} />;
  const sheet = { view, state, step, tap, close: () => setAsked(null) };
  if (!step || !did)
    return (
      <>
        <Others view={view} state={state} me={whose} title={title} />
        <Dwells dwelling={dwelling} at={at} title={title} rinse={rinse} />
        <Questions view={view} state={state} tap={tap} />
        <NothingLeft others={state.hands.length > 0} />
        {view.mayTap && state.hands.length === 0 && state.open.length > 0 && <StillOpen state={state} tap={tap} />}
        {view.mayTap && state.hands.length === 0 && state.open.length === 0 && <BigButton onClick={forward}>Finish the wash</BigButton>}
        {view.mayTap && <Actions>{undoButton}</Actions>}
      </>
    );
  // What no answer asks for is not counted.
  const counted = view.steps.filter((s) => s === step || !state.steps.find((x) => x.id === s.id)?.unasked);
  const index = counted.indexOf(step);
  const where = filled && filled.zones.length > 0 && (
    <Car
      body={view.spec.body}
      lit={touching && mitt.now ? mitt.now.zones : filled.zones}
      {...(filled.way && { way: filled.way })}
      className="max-h-52"
    />
  );
  return (
    <>
      <Others view={view} state={state} me={whose} title={title} />
      <p className="flex items-baseline justify-between text-faded">
        <span>
          {step.stage} · <span className="num">{index + 1}</span> of <span className="num">{counted.length}</span>
        </span>
        <span>{holdsUp || running ? "" : did.status === "paused" ? "paused" : "not begun"}</span>
      </p>
      <h1 className="text-[1.9rem]">
        {filled?.whole ?? step.title}
        {filled?.part && <span className="block text-xl text-tide">{partWords(filled.part)}</span>}
      </h1>
      {holdsUp ? (
        <HoldUp left={(Date.parse(holdsUp.earliest) - at) / 1000} title={title(holdsUp.step)} until={holdsUp.earliest} />
      ) : (
        <Clock spent={spent} planned={step.minutes} />
      )}
      <Dwells dwelling={dwelling} at={at} title={title} rinse={rinse} />
      {!asked && (
        <>
          {view.mayTap && silent && <StillThere title={step.title} onOpen={() => setAsked("where")} />}
          <Questions view={view} state={state} tap={tap} />
          {view.mayTap && <Looks step={step} did={did} tap={tap} />}
          <LeftOpen state={state} />
          {touching && <Mitt view={view} did={did} tap={tap} may={view.mayTap} />}
          {did.status !== "waiting" && where}
          {filled && <Prompts s={filled} counted={view.counted[step.id]} begun={did.status !== "waiting"} poured={did.poured} />}
          {did.status === "waiting" && where}
          <div className="grow" />
          {state.started && <RestLine id={view.id} taps={view.events.length} />}
          <Next steps={after} />
        </>
      )}
      {!view.mayTap && <p className="rounded-xl border-2 border-line p-3">View only: {view.washer.name} records this wash.</p>}
      {view.mayTap && asked === "more" && <More {...sheet} ask={setAsked} />}
      {view.mayTap && asked === "where" && did.since && (
        <WhereNow step={step} since={Date.parse(did.since)} next={next} at={at} tap={tap} close={() => setAsked(null)} />
      )}
      {view.mayTap && asked && asked !== "more" && asked !== "where" && <Question asked={asked} {...sheet} />}
      {view.mayTap && !asked && (
        <Foot>
          <BigButton onClick={forward} quiet={Boolean(holdsUp)}>
            {running ? "Done" : did.status === "paused" ? "Go on" : holdsUp ? "Begin early" : "Start"}
          </BigButton>
          {closes && (
            <Button className="min-h-[56px] w-full text-lg" onClick={() => void tap(...closes.taps)}>
              {closes.says}
            </Button>
          )}
          <Actions>
            <Action Icon={Pause} label="Pause" disabled={!pause} onClick={() => pause?.()} />
            <Action Icon={Ellipsis} label="Other" onClick={() => setAsked("more")} />
            {undoButton}
          </Actions>
        </Foot>
      )}
    </>
  );
}

/** The time a step has taken, large, against what it should. */
function Clock({ spent, planned }: { spent: number; planned: number }) {
  const over = spent > planned * 60;
  return (
    <p>
      <span role="timer" className={`num block text-[5.2rem] leading-none font-semibold ${over ? "text-rust" : ""}`}>
        {clock(spent)}
      </span>
      <span className={over ? "font-semibold text-rust" : "text-faded"}>
        {over ? `${minutes((spent - planned * 60) / 60)} over the ${minutes(planned)} planned` : `of ${minutes(planned)}`}
      </span>
    </p>
  );
}

/** How long product must still work before the next step may take it off. */
const HoldUp = ({ left, title, until }: { left: number; title: string; until: string }) => (
  <p>
    <span className="num block text-[5.2rem] leading-none font-semibold text-amber-ink" aria-hidden>
      {clock(left)}
    </span>
    {title} is still working: begin at <b className="num">{hour(until)}</b>.
  </p>
);

/** What comes after the step in hand. */
function Next({ steps }: { steps: WashView["steps"] }) {
  if (steps.length === 0) return null;
  return (
    <ol className="text-lg leading-snug" aria-label="Next">
      {steps.map((s, i) => (
        <li key={s.id} className={i > 0 ? "text-faded" : ""}>
          <span className="text-faded">{i === 0 ? "Next:" : "Then:"}</span> <span className={i === 0 ? "font-bold" : ""}>{s.title}</span>{" "}
          <span className="num text-faded">{minutes(s.minutes)}</span>
        </li>
      ))}
    </ol>
  );
}

const NothingLeft = ({ others }: { others: boolean }) => (
  <div className="grid grow content-center gap-3 text-center">
    {others ? (
      <p className="text-2xl font-bold">Nothing is left for you here.</p>
    ) : (
      <>
        <p className="text-2xl font-bold">Every step is done.</p>
        <p className="text-faded">Finish the wash to save its stage times.</p>
      </>
    )}
  </div>
);

/** The buttons stay under the thumb, however long the step's words are. */
const Foot = ({ children }: { children: ReactNode }) => (
  <div className="sticky bottom-0 -mx-3 grid gap-2 border-t border-line bg-chalk px-3 pt-2 pb-3 sm:-mx-4 sm:px-4">{children}</div>
);

/** What the others on this car have in hand. */
function Others({ view, state, me, title }: { view: WashView; state: State; me: string; title: (s: string) => string }) {
  const others = state.hands.filter((h) => h.by !== me);
  if (others.length === 0) return null;
  const name = (id: string) => [...view.crew, ...view.people].find((p) => p.id === id)?.name ?? "Somebody";
  return (
    <ul className="text-sm text-faded" aria-label="Others on this car">
      {others.map((h) => (
        <li key={h.by}>
          {name(h.by)}: <b>{title(h.step)}</b>
          {state.steps.find((s) => s.id === h.step)?.status === "paused" && ", paused"}
        </li>
      ))}
    </ul>
  );
}

function BigButton({ children, onClick, quiet }: { children: ReactNode; onClick: () => void; quiet?: boolean }) {
  return (
    <Button look={quiet ? "plain" : "act"} onClick={onClick} className="min-h-[84px] w-full text-3xl">
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
