import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { useMay } from "../api/shop";
import { sentence } from "../kit/format";
import { Button, Field, inputLook, Panel, Tick, Trouble } from "../kit/kit";
import { newId } from "../offline/ids";
import { useZoneName } from "./Outcome";
import type { Answer, View } from "./useWalk";

/** A lead puts a signed audit into the calibration set: what is ticked is confirmed, whatever is not there is not looked for. */
export function IntoSet({ view }: { view: View }) {
  const may = useMay();
  const queries = useQueryClient();
  const go = useNavigate();
  const name = useZoneName(view);
  const [id] = useState(newId);
  const [title, setTitle] = useState(view.label);
  const [out, setOut] = useState<string[]>([]);
  const all = Object.entries(view.answers).flatMap(([item, a]) =>
    a.answer.findings.map((f, i) => ({ key: `${item} ${i}`, item, finding: f })),
  );
  const put = useMutation({
    meta: { said: "It is in the calibration set." },
    mutationFn: () => {
      const truth: Record<string, Answer> = {};
      for (const [item, a] of Object.entries(view.answers)) {
        const findings = all.filter((f) => f.item === item && !out.includes(f.key)).map((f) => f.finding);
        if (findings.length > 0) truth[item] = { ...a.answer, findings };
        else if (a.answer.verdict !== "not applicable") truth[item] = { verdict: "pass", findings: [] };
      }
      return ask(client.POST("/audits/{id}/calibration", { params: { path: { id: view.id } }, body: { id, title, truth } }));
    },
    onSuccess: () => {
      stale(queries, keys.audits());
      void go("/audits/calibration");
    },
  });
  if (!may("keep remedies") || !view.closedAt || all.length === 0) return null;
  return (
    <details className="rounded-2xl border border-line bg-paper p-3">
      <summary className="min-h-hit content-center font-bold">Put it into the calibration set</summary>
      <div className="mt-2 grid gap-3">
        <p>Others walk it by its photos, or round the car as it stands. Tick what is really there.</p>
        <Field label="What it is called">
          <input className={inputLook} maxLength={80} value={title} onChange={(e) => setTitle(e.target.value)} />
        </Field>
        <Panel title="There is to be found">
          {all.map(({ key, finding: f }) => (
            <Tick
              key={key}
              label={`${sentence(f.kind)} on ${name(f.zone)}, ${f.severity}`}
              on={!out.includes(key)}
              onChange={(on) => setOut(on ? out.filter((k) => k !== key) : [...out, key])}
            />
          ))}
        </Panel>
        <Button look="act" disabled={put.isPending} onClick={() => put.mutate()}>
          Put it in
        </Button>
        {put.error && <Trouble error={put.error} />}
      </div>
    </details>
  );
}
