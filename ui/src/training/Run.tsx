import { useParams } from "react-router";
import type { Schemas } from "../api/client";
import { sentence } from "../kit/format";
import { Button, Head, LinkButton, Loading, Trouble } from "../kit/kit";
import { boards } from "./boards";
import { Outcome } from "./Outcome";
import { useRun, useRunView } from "./useRun";

type View = Schemas["RunView"];

/** A drill in play, and at its end. */
export function Run() {
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
  const { name, begin, Board } = boards[view.drill.kind];
  const last = state.said.at(-1);
  const open = view.mine && !view.result && !state.done;
  const told = last?.causes ? "border-rust bg-rust-wash" : "border-line bg-paper";
  const status = (
    <>
      <p role="status" className={`min-h-14 rounded-xl border-2 p-2.5 leading-snug ${told}`}>
        {run.refused ? sentence(run.refused) : (last?.text ?? begin)}
      </p>
      {state.done && !view.result && view.mine && (
        <Button look="act" className="min-h-14!" disabled={run.finish.isPending} onClick={() => run.finish.mutate()}>
          Set it beside the plan
        </Button>
      )}
      {run.finish.error && <Trouble error={run.finish.error} />}
      {run.unsent && <p className="text-sm text-faded">No connection: your moves are kept on this device.</p>}
    </>
  );
  const undo = (
    <Button look="quiet" className="min-h-14! px-2!" disabled={run.actions.length === 0} onClick={() => void run.undo()}>
      Undo
    </Button>
  );
  return (
    <>
      <Head title={`${name}: ${view.title}`} sub={`Level ${level(view.drill)}`}>
        <LinkButton to="/training" className="max-sm:hidden!">
          Training
        </LinkButton>
      </Head>
      {view.result ? (
        <Outcome view={view} result={view.result} />
      ) : (
        <Board task={view.drill} state={state} play={open ? (a) => void run.play(a) : undefined} status={status} undo={undo} />
      )}
    </>
  );
}

const level = (t: Schemas["Task"]) => (t.mitt ?? t.buckets ?? t.drying ?? t.dwells)?.level ?? 1;
