import { useWords } from "../api/shop";
import type { Zone } from "../car/shape";
import { useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { keys, stale } from "../api/keys";
import { hour, minutes, plural, seconds, sentence } from "../kit/format";
import { LinkButton, Panel, Tag } from "../kit/kit";
import { Photos, useWaiting } from "../photo/Photos";
import type { View } from "./useWalk";

/** The zones of an audited car by name. */
export function useZoneName(view: View) {
  const words = useWords().data;
  return (z: Zone) => words?.bodies.find((b) => b.body === view.spec.body)?.parts.find((p) => p.zone === z)?.label ?? z;
}

/** What else is said of a finding. */
export const asides = (f: Schemas["Finding"]) =>
  `${f.putRight ? `, put right in ${seconds(f.putRight)}` : ""}${f.before ? ", there before" : ""}`;

/** Photos of an audit beside those of the look-over before it: of one zone, or all. */
export function AuditPhotos({ view, zone }: { view: View; zone?: Zone }) {
  const name = useZoneName(view);
  const queries = useQueryClient();
  const waiting = useWaiting({ subject: "audit", of: view.id }).filter((p) => zone === undefined || p.zone === zone);
  const photos = (view.photos ?? []).filter((p) => zone === undefined || p.zone === zone);
  const told = (z: string) => name(z as Zone);
  const dropped = () => stale(queries, keys.audit(view.id));
  const came = photos.filter((p) => p.subject === "look-over");
  const now = photos.filter((p) => p.subject === "audit");
  return (
    <div className="grid gap-3">
      <Photos title="As it came: what was there before does not count" photos={came} name={told} of={view.id} />
      <Photos
        title="At this audit"
        photos={now}
        waiting={waiting}
        name={told}
        of={view.id}
        {...(!view.closedAt && view.mayAudit && { dropped })}
      />
    </div>
  );
}

/** What an audit comes to: so far, or as it was signed. */
export function Outcome({ view }: { view: View }) {
  const r = view.result;
  const label = useZoneName(view);
  const title = (id: string) => view.checklist.items.find((i) => i.id === id)?.title ?? id;
  return (
    <Panel
      title={view.closedAt ? `Signed at ${hour(view.closedAt)}` : "So far"}
      aside={view.closedAt && <Tag tone={r.passed ? "moss" : "rust"}>{r.passed ? "Passed" : "Failed"}</Tag>}
    >
      <div className="flex flex-wrap items-baseline gap-x-4">
        <span className={`num text-4xl font-semibold ${r.critical || (view.closedAt && !r.passed) ? "text-rust" : ""}`}>{r.score}</span>
        <span className="text-faded">{r.because}</span>
      </div>
      {(r.tooDark ?? []).length > 0 && (
        <p className="mt-2">Too dark to judge: {(r.tooDark ?? []).map(title).join(", ")}. Marks and smears stay open.</p>
      )}
      {view.leaves.length > 0 && (
        <p className="mt-2">
          {view.ordered} leaves {view.leaves.join(", ")}: that is accepted and does not count, unless it is seen standing or does harm.
        </p>
      )}
      {view.outScope.length > 0 && (
        <p className="mt-2 text-sm">
          Declared out of scope: {view.outScope.map((o) => `${o.matter} on ${o.zones.map(label).join(", ")}`).join("; ")}. It does not
          count.
        </p>
      )}
      {r.findings.length > 0 && (
        <ol className="mt-3 grid gap-2">
          {r.findings.map((f, i) => (
            <li key={i} className="border-l-4 border-line pl-3">
              <b>
                {i + 1}. {sentence(f.kind)}
                {f.matter && `: ${f.matter}`}
              </b>{" "}
              on {label(f.zone)} · {f.severity}
              {!f.counts && " · not counted"}
              <span className="block text-faded">
                {sentence(f.cause)}. {f.counts && `Goes back to ${f.stepName ?? "no step in this plan"}, skill: ${f.skill}.`}{" "}
                {f.rework > 0 && `Rework ${minutes(f.rework)}.`}
                {f.putRight ? ` Put right on the spot in ${seconds(f.putRight)}.` : ""}
                {f.note && ` “${f.note}”`}
              </span>
            </li>
          ))}
        </ol>
      )}
      {view.closedAt && view.rework.length > 0 && (
        <div className="mt-3 flex flex-wrap items-center justify-between gap-3">
          <p>
            <b>{plural(view.rework.length, "rework step")}</b> on the same wash, {minutes(view.rework.reduce((s, x) => s + x.minutes, 0))}.
          </p>
          <LinkButton to={`/bay/${view.washId}`}>To the bay</LinkButton>
        </div>
      )}
    </Panel>
  );
}
