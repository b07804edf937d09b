import { useMutation } from "@tanstack/react-query";
import { useParams, useNavigate } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import type { DrillState } from "../core/core";
import { clock, plural, sentence } from "../kit/format";
import { Button, Figure, Head, LinkButton, Loading, Panel, Tag, Trouble } from "../kit/kit";
import { type Action, useRun, useRunView } from "./useRun";
import { Washing } from "./Washing";

type View = Schemas["RunView"];

/** The mitt drill by hand: the trainee washes, and the core answers every stroke. */
export function ByHand() {
  const { id = "" } = useParams();
  const view = useRunView(id);
  if (view.isPending) return <Loading what="the drill" />;
  if (!view.data) return <Trouble error={view.error} retry={() => void view.refetch()} />;
  return <Play key={view.data.result ? "done" : "open"} view={view.data} />;
}

function Play({ view }: { view: View }) {
  const run = useRun(view);
  const { state } = run;
  if (!state) return <Loading what="the core" />;
  const panels = view.drill.panels;
  const panel = panels[state.panel];
  const last = state.said.at(-1);
  const open = view.mine && !view.result && !state.done;
  if (!panel) return null;
  const told = last?.causes ? "border-rust bg-rust-wash" : "border-line bg-paper";
  const done = view.result ?? undefined;
  return (
    <>
      <Head title={`By hand: ${view.title}`} sub={`Level ${view.drill.level} · ${panels.map((p) => p.label).join(", ")}`}>
        <LinkButton to="/training">Training</LinkButton>
      </Head>
      {done && (
        <div className="mb-3">
          <Outcome view={view} result={done} state={state} />
        </div>
      )}
      <div className="grid gap-3 lg:grid-cols-[minmax(0,1fr)_20rem]">
        <div className="grid min-w-0 content-start gap-2">
          <div className="flex flex-wrap items-baseline justify-between gap-x-4">
            <h2 className="text-lg font-bold">
              {sentence(panel.label)} <span className="font-normal text-faded">{`${state.panel + 1} of ${panels.length}`}</span>
            </h2>
            {!state.done && <Wet state={state} window={view.drill.window} />}
          </div>
          <Washing
            panel={panel}
            sheet={state.sheets[state.panel]}
            open={open}
            stroke={(path, pressing) => void run.play({ do: "stroke", path, ...(pressing ? { pressing } : {}) })}
          />
          <p role="status" className={`min-h-14 rounded-xl border-2 p-2.5 leading-snug ${told}`}>
            {run.refused ? sentence(run.refused) : (last?.text ?? "Load the mitt, then draw straight strokes over the panel.")}
          </p>
        </div>
        <div className="grid content-start gap-3">
          {open && <Moves run={run} state={state} last={state.panel === panels.length - 1} />}
          {state.done && !view.result && view.mine && (
            <Button look="act" className="min-h-14!" disabled={run.finish.isPending} onClick={() => run.finish.mutate()}>
              Set it beside the plan
            </Button>
          )}
          {run.finish.error && <Trouble error={run.finish.error} />}
          {run.unsent && <p className="text-sm text-faded">No connection: your moves are kept on this device.</p>}
          <Mitt state={state} limit={view.drill.lacquer.limit} />
        </div>
      </div>
    </>
  );
}

/** How long the suds of the panel in hand stay wet. */
function Wet({ state, window }: { state: DrillState; window: number }) {
  const since = state.wet[state.panel] ?? -1;
  const left = since < 0 ? window : Math.max(0, window - (state.clock - since));
  return (
    <p className="flex items-baseline gap-3 text-sm">
      <span>
        Clock <b className="num">{clock(state.clock)}</b>
      </span>
      <span className={left < 20 ? "font-bold text-rust" : ""}>
        {state.dried[state.panel] ? "Suds dried" : since < 0 ? "No suds on it yet" : `Suds dry in ${clock(left)}`}
      </span>
    </p>
  );
}

type Run = ReturnType<typeof useRun>;

function Moves({ run, state, last }: { run: Run; state: DrillState; last: boolean }) {
  const move = (what: Action["do"], label: string, look: "plain" | "act" = "plain") => (
    <Button key={what} look={look} className="min-h-14! px-2!" onClick={() => void run.play({ do: what })}>
      {label}
    </Button>
  );
  return (
    <div className="grid grid-cols-3 gap-2">
      {state.mishap === "the guard has come up" && move("seat the guard", "Seat guard", "act")}
      {state.mishap === "the mitt fell on the ground" && move("take the spare", "Take spare", "act")}
      {move("load", "Load", state.hand.bare ? "act" : "plain")}
      {move("flip", "Flip")}
      {move("rub on the guard", "Rub")}
      {move("swish", "Swish")}
      {move("look at the mitt", "Look")}
      {move("feel the pile", "Feel")}
      {move("wet the panel", "Wet panel")}
      {move("rinse the panel", "Rinse panel")}
      {!last && move("next panel", "Next panel")}
      {state.hand.mitt === 0 && move("take the lower mitt", "Lower mitt")}
      <Button look="quiet" className="min-h-14! px-2!" disabled={run.actions.length === 0} onClick={() => void run.undo()}>
        Undo
      </Button>
    </div>
  );
}

function Mitt({ state, limit }: { state: DrillState; limit: number }) {
  const held = state.hand.mitts[state.hand.mitt];
  return (
    <Panel title={state.hand.mitt === 0 ? "Mitt" : "Lower mitt"} aside={<Tag>{plural(state.hand.rinses, "rinse")}</Tag>}>
      <ul className="grid gap-2">
        {held?.faces.map((f, i) => (
          <li key={i} className="grid gap-0.5">
            <span className="flex justify-between text-sm">
              <span className={i === held.face ? "font-bold" : ""}>
                Face {i + 1}
                {i === held.face ? ", down" : ""}
              </span>
              <span className="num">{Math.round(f.exposed)} mg at the tips</span>
            </span>
            <span className="h-3 overflow-hidden rounded-full border border-line">
              <span
                className={`block h-full ${f.exposed > limit ? "bg-rust" : "bg-tide"}`}
                style={{ width: `${Math.min(100, (100 * f.exposed) / limit)}%` }}
              />
            </span>
          </li>
        ))}
      </ul>
    </Panel>
  );
}

function Outcome({ view, result: r, state }: { view: View; result: Schemas["RunResult"]; state: DrillState }) {
  const go = useNavigate();
  const again = useMutation({
    mutationFn: (from: number) => ask(client.POST("/drill-runs/{id}/again", { params: { path: { id: view.id } }, body: { from } })),
    onSuccess: (next) => void go(`/training/by-hand/${next.id}`),
  });
  const [first, second, ...rest] = r.remarks;
  const told = [first, second].filter((x) => x !== undefined);
  return (
    <Panel
      title={r.passed ? "Passed" : "Not yet"}
      aside={<Tag tone={r.passed ? "moss" : "rust"}>{r.passed ? "as taught" : "try again"}</Tag>}
    >
      <div className="flex flex-wrap gap-x-7 gap-y-1">
        <Figure value={`${r.index.toFixed(0)} / ${r.planIndex.toFixed(0)}`} label="scratch risk, yours / the plan's" />
        <Figure value={`${r.rinses} / ${r.planRinses}`} label="rinses" />
        <Figure value={`${clock(r.seconds)} / ${clock(r.planSeconds)}`} label="time" />
        <Figure value={`${Math.round(100 * Math.min(...r.covered))} %`} label="washed, at the least" />
      </div>
      {r.why.length > 0 && (
        <ul className="mt-2 list-disc pl-5">
          {r.why.map((w) => (
            <li key={w}>{w}</li>
          ))}
        </ul>
      )}
      {told.length > 0 && <h3 className="mt-3 font-bold">What helps most</h3>}
      <ul className="mt-1 grid gap-2">
        {told.map((x) => (
          <li key={x.cause} className="flex flex-wrap items-center justify-between gap-2 rounded-lg bg-chalk p-2">
            <span>
              {x.says}. <span className="text-sm text-faded">{movesWords(x.moves)}</span>
            </span>
            <Button disabled={again.isPending} onClick={() => again.mutate(x.moves[0] ?? 0)}>
              Try again from there
            </Button>
          </li>
        ))}
      </ul>
      {rest.length > 0 && (
        <details className="mt-2">
          <summary className="font-semibold">{plural(rest.length, "more remark")}</summary>
          <ul className="list-disc pl-5">
            {rest.map((x) => (
              <li key={x.cause}>
                {x.says}. {movesWords(x.moves)}
              </li>
            ))}
          </ul>
        </details>
      )}
      <details className="mt-2">
        <summary className="font-semibold">Your moves beside the plan&apos;s</summary>
        <div className="grid gap-3 sm:grid-cols-2">
          <ol className="list-decimal pl-6 text-sm">
            {state.said.map((s, i) => (
              <li key={i} className={s.causes ? "font-semibold text-rust" : ""}>
                {sentence(s.do)}: {s.text}
              </li>
            ))}
          </ol>
          <ol className="list-decimal pl-6 text-sm">
            {(r.planMoves ?? []).map((m, i) => (
              <li key={i}>{sentence(m)}</li>
            ))}
          </ol>
        </div>
      </details>
      {again.error && <Trouble error={again.error} />}
      <Button className="mt-3" disabled={again.isPending} onClick={() => again.mutate(0)}>
        The same drill again
      </Button>
    </Panel>
  );
}

const movesWords = (moves: number[]) =>
  `At move ${moves
    .slice(0, 4)
    .map((m) => m + 1)
    .join(", ")}${moves.length > 4 ? " and more" : ""}`;
