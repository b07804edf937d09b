import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import type { DrillState } from "../core/core";
import { clock, sentence } from "../kit/format";
import { Choice, Tag } from "../kit/kit";
import { type BoardProps, Move, Sides } from "./board";
import type { Action } from "./useRun";

type Now = NonNullable<DrillState["dwells"]>["jobs"][number];

const speeds = [
  { value: "0", label: "Stands, I say how long" },
  { value: "4", label: "4 times as fast" },
  { value: "10", label: "10 times" },
] as const;
type Speed = (typeof speeds)[number]["value"];
const tick = 250; // ms

/** Products at work on one car, on clocks that run faster than life: each is worked and taken off in its time. */
export function Dwells({ task, state, play, status, undo }: BoardProps) {
  const drill = task.dwells;
  const now = state.dwells;
  const [speed, setSpeed] = useState<Speed>("4");
  const working = now?.jobs.some((j) => j.stage === "on" || j.stage === "worked") ?? false;
  const [waited, setWaited] = useWaited(play && working ? Number(speed) : 0);
  if (!drill || !now) return null;
  const act = (a: Action) => {
    const seconds = Math.round(waited);
    if (seconds > 0) play?.({ do: "wait", amount: seconds });
    setWaited(0);
    play?.(a);
  };
  const at = state.clock + waited;
  const picture = (
    <ul className="grid gap-2">
      {drill.jobs.map((job, i) => {
        const of = now.jobs[i];
        return of && <Row key={job.id} job={job} now={of} at={at} wheels={drill.wheels} act={play && act} />;
      })}
    </ul>
  );
  const moves = status && (
    <div className="grid gap-3">
      <p className="text-lg">
        Clock <b className="num">{clock(Math.round(at))}</b>
        <span className="ml-3 text-base text-faded">waited {clock(Math.round(now.idle + waited))}</span>
      </p>
      {play && <Choice label="Time" value={speed} onChange={setSpeed} options={speeds} />}
      {play && (
        <div className="grid grid-cols-3 gap-2">
          {[10, 30, 60].map((s) => (
            <Move key={s} on={() => act({ do: "wait", amount: s })}>{`Wait ${s} s`}</Move>
          ))}
          {undo}
        </div>
      )}
    </div>
  );
  return <Sides picture={picture} moves={moves} status={status} />;
}

/** Seconds of the drill that went by since its last action, while time runs; an action sets them to none. */
function useWaited(speed: number): [number, (s: number) => void] {
  const [waited, setWaited] = useState(0);
  useEffect(() => {
    if (speed === 0) return;
    const timer = setInterval(() => setWaited((w) => Math.min(600, w + (speed * tick) / 1000)), tick);
    return () => clearInterval(timer);
  }, [speed]);
  return [waited, setWaited];
}

interface RowProps {
  job: Schemas["DrillSoak"];
  now: Now;
  at: number;
  wheels: boolean;
  act: ((a: Action) => void) | undefined;
}

function Row({ job, now, at, wheels, act }: RowProps) {
  const on = now.stage === "on" || now.stage === "worked";
  const stayed = on ? Math.max(0, at - now.onAt) : now.stage === "off" ? now.offAt - now.onAt : 0;
  const late = stayed > job.max || now.dried;
  const worked = stayed >= job.min;
  const tone = late ? "rust" : on && worked ? "moss" : "plain";
  const says = late ? "too long" : now.stage === "off" ? "off" : on ? (worked ? "has worked" : "working") : now.warm ? "hot" : "bare";
  return (
    <li className="grid gap-1 rounded-xl border-2 border-line bg-paper p-2">
      <div className="flex items-center justify-between gap-2">
        <span>
          <b>{sentence(job.label)}</b> <span className="text-sm text-faded">{job.product}</span>
        </span>
        <Tag tone={tone}>{says}</Tag>
      </div>
      <div className="relative h-3 overflow-hidden rounded-full border border-line" aria-hidden>
        <span className={`block h-full ${late ? "bg-rust" : worked ? "bg-moss" : "bg-tide"}`} style={{ width: share(stayed, job.max) }} />
        <span className="absolute top-0 h-full border-l-2 border-ink" style={{ left: share(job.min, job.max) }} />
      </div>
      <div className="flex min-h-14 flex-wrap items-center justify-between gap-2">
        <span className="num text-sm">{`${clock(Math.round(stayed))} of ${clock(job.min)} to ${clock(job.max)}`}</span>
        {act && <Doing job={job} now={now} wheels={wheels} act={act} />}
      </div>
    </li>
  );
}

const share = (s: number, of: number) => `${Math.min(100, (100 * s) / Math.max(1, of))}%`;

function Doing({ job, now, wheels, act }: { job: Schemas["DrillSoak"]; now: Now; wheels: boolean; act: (a: Action) => void }) {
  const move = (what: Action["do"], label: string, look: "plain" | "act" = "plain") => (
    <Move key={what} look={look} on={() => act({ do: what, on: job.id })}>
      <span className="sr-only">{`${sentence(job.label)}: `}</span>
      {label}
    </Move>
  );
  const brush = (job.work ?? 0) > 0;
  return (
    <div className="flex gap-2">
      {now.stage === "" && wheels && !now.felt && move("feel the wheel", "Feel it")}
      {now.stage === "" && wheels && now.warm && move("cool it with water", "Cool it", "act")}
      {now.stage === "" && move("put it on", "Put it on")}
      {now.stage === "on" && brush && move("work it", "Brush it")}
      {((now.stage === "on" && !brush) || now.stage === "worked") && move("take it off", "Rinse it off")}
    </div>
  );
}
