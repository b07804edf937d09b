import { useMutation } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { useCore } from "../core/core";
import { clock, plural, sentence } from "../kit/format";
import { Button, Choice, Figure, Loading, Panel, Tag, Trouble } from "../kit/kit";
import { boards } from "./boards";

type View = Schemas["RunView"];

/** How a run came out beside the drill as taught: what it cost, what helps most, and both on the same picture. */
export function Outcome({ view, result: r }: { view: View; result: Schemas["RunResult"] }) {
  const go = useNavigate();
  const again = useMutation({
    mutationFn: (from: number) => ask(client.POST("/drill-runs/{id}/again", { params: { path: { id: view.id } }, body: { from } })),
    onSuccess: (next) => void go(`/training/by-hand/${next.id}`),
  });
  const [first, second, ...rest] = r.remarks;
  const told = [first, second].filter((x) => x !== undefined);
  const why = r.why.filter((w) => !told.some((x) => `${x.says}.` === w)); // what is told below is told once
  return (
    <Panel
      title={r.passed ? "Passed" : "Not yet"}
      aside={<Tag tone={r.passed ? "moss" : "rust"}>{r.passed ? "as taught" : "try again"}</Tag>}
    >
      <div className="flex flex-wrap gap-x-7 gap-y-1">
        {r.figures.map((f) => (
          <Figure
            key={f.label}
            value={figure(f)}
            label={f.plan === undefined ? f.label.toLowerCase() : `${f.label.toLowerCase()}, yours / as taught`}
          />
        ))}
      </div>
      {why.length > 0 && (
        <ul className="mt-2 list-disc pl-5">
          {why.map((w) => (
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
      <Replay view={view} taught={r.planActions ?? []} />
      {again.error && <Trouble error={again.error} />}
      <Button className="mt-3" disabled={again.isPending} onClick={() => again.mutate(0)}>
        The same drill again
      </Button>
    </Panel>
  );
}

function figure(f: Schemas["RunFigure"]): string {
  const one = (n: number) => (f.unit === "s" ? clock(Math.round(n)) : String(Math.round(n * 10) / 10));
  const unit = f.unit && f.unit !== "s" ? ` ${f.unit}` : "";
  return `${one(f.yours)}${f.plan === undefined ? "" : ` / ${one(f.plan)}`}${unit}`;
}

/** The run, or the drill as taught, move by move on the picture it was played on. */
function Replay({ view, taught }: { view: View; taught: View["actions"] }) {
  const [open, setOpen] = useState(false);
  const [whose, setWhose] = useState<"mine" | "taught">("mine");
  const [at, setAt] = useState(0);
  const all = whose === "mine" ? view.actions : taught;
  const input = useMemo(
    () => (open ? { drill: view.drill, actions: all.slice(0, Math.min(at, all.length)) } : undefined),
    [open, view.drill, all, at],
  );
  const state = useCore("drill", input)?.out.state;
  const Board = boards[view.drill.kind].Board;
  const last = state?.said.at(-1);
  const move = Math.min(at, all.length);
  return (
    <details className="mt-3" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="font-semibold">Move by move, yours and as taught</summary>
      <div className="mt-2 grid gap-2">
        <Choice
          label="Whose moves"
          value={whose}
          onChange={setWhose}
          options={[
            { value: "mine", label: "This run" },
            { value: "taught", label: "As taught" },
          ]}
        />
        <div className="flex flex-wrap items-center gap-2">
          <Button disabled={move === 0} onClick={() => setAt(move - 1)}>
            Back
          </Button>
          <Button disabled={move === all.length} onClick={() => setAt(move + 1)}>
            Next move
          </Button>
          <label className="flex min-h-hit flex-1 items-center gap-2">
            <span className="num text-sm whitespace-nowrap">{`Move ${move} of ${all.length}`}</span>
            <input
              type="range"
              className="min-h-hit w-full min-w-24"
              aria-label="Which move"
              min={0}
              max={all.length}
              value={move}
              onChange={(e) => setAt(Number(e.target.value))}
            />
          </label>
        </div>
        {open && !state && <Loading what="the core" />}
        {state && (
          <p className={`min-h-10 ${last?.causes ? "font-semibold text-rust" : ""}`}>
            {last ? `${sentence(last.do)}: ${last.text}` : "Before the first move."}
          </p>
        )}
        {state && (
          <div className="max-w-2xl">
            <Board task={view.drill} state={state} />
          </div>
        )}
      </div>
    </details>
  );
}

const movesWords = (moves: number[]) =>
  `At move ${moves
    .slice(0, 4)
    .map((m) => m + 1)
    .join(", ")}${moves.length > 4 ? " and more" : ""}`;
