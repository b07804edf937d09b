import { Hammer } from "lucide-react";
import { type ReactNode, useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { useWords } from "../api/shop";
import type { Zone } from "../car/shape";
import { seconds, sentence } from "../kit/format";
import { Button, Field, inputLook, Tick } from "../kit/kit";
import { type View } from "./useWalk";
import { useZoneName } from "./Outcome";

type Item = Schemas["Item"];
type Finding = Schemas["Finding"];
type Kind = Finding["kind"];

const severities = [
  { is: "minor", about: "on a close look" },
  { is: "major", about: "seen standing" },
  { is: "critical", about: "damage, danger" },
] as const;

/** What is tapped on a walk: large enough for a wet glove. */
export const tap = "min-h-14 rounded-xl border-2 border-line bg-paper px-3 py-2 text-left hover:border-tide";

/** A finding in three taps: where, what, how bad. The third one saves it. */
export function FindingForm({
  item,
  view,
  zone,
  photos,
  onSave,
  onCancel,
}: {
  item: Item;
  view: View;
  zone: Zone;
  /** Photos of the zone, and taking one; absent on a blind look. */
  photos?: { shown: ReactNode; take: ReactNode };
  onSave: (f: Finding) => void;
  onCancel: () => void;
}) {
  const words = useWords().data;
  const name = useZoneName(view);
  const [kind, setKind] = useState<Kind>();
  const [others, setOthers] = useState(item.kinds.length === 0);
  const [matter, setMatter] = useState<Schemas["Matter"]>();
  const [amount, setAmount] = useState("");
  const [note, setNote] = useState("");
  const [before, setBefore] = useState(false);
  const fix = useStopwatch();
  const shown = (view.photos ?? []).some((p) => p.subject === "look-over" && !p.late && p.zone === zone);
  const lets = item.lets?.find((l) => l.kind === kind);
  const save = (severity: Finding["severity"]) =>
    kind &&
    onSave({
      zone,
      kind,
      severity,
      ...(matter && { matter }),
      ...(note && { note }),
      ...(before && { before }),
      ...(fix.begun && severity !== "critical" && { putRight: fix.elapsed() }),
      ...(Number(amount) > 0 && { amount: Math.min(100, Number(amount)) }),
    });
  return (
    <div className="grid gap-3" role="group" aria-label={`Finding on ${name(zone)}`}>
      <p className="font-semibold">
        {sentence(name(zone))}
        {kind && `: ${kind}`}
        {matter && `, ${matter}`}
      </p>
      {!kind && (
        <>
          <Taps label="What" options={others ? (words?.lists.findings ?? item.kinds) : item.kinds} onPick={setKind} />
          {!others && (
            <Button look="quiet" className="justify-self-start" onClick={() => setOthers(true)}>
              Something else
            </Button>
          )}
        </>
      )}
      {kind === "bonded matter" && !matter && <Taps label="Which" options={words?.matter ?? []} onPick={setMatter} />}
      {kind && (kind !== "bonded matter" || matter) && (
        <>
          {lets && (
            <Field
              label={lets.unit === "%" ? "How much of it, %" : "How many"}
              hint={`up to ${lets.most}${lets.unit === "%" ? " %" : ""} is let pass`}
            >
              <input type="number" min={0} max={100} className={inputLook} value={amount} onChange={(e) => setAmount(e.target.value)} />
            </Field>
          )}
          <div role="group" aria-label="How bad" className="grid grid-cols-3 gap-2">
            {severities.map((s) => (
              <button
                key={s.is}
                type="button"
                className={`${tap} ${(item.usual?.[kind] ?? "minor") === s.is ? "border-tide!" : ""}`}
                onClick={() => save(s.is)}
              >
                <b className="block">{sentence(s.is)}</b>
                <span className="block text-sm text-faded">{s.about}</span>
              </button>
            ))}
          </div>
          <p className="text-sm text-faded">
            {fix.begun ? "A tap saves the finding with the time. " : "A tap saves the finding. "}
            {`Here it is usually ${item.usual?.[kind] ?? "minor"}.`}
          </p>
          <PutRight fix={fix} />
          {shown && <Tick label="There before the wash, as the photo shows: it does not count" on={before} onChange={setBefore} />}
          <Field label="Note, before you tap">
            <input className={inputLook} value={note} maxLength={1000} onChange={(e) => setNote(e.target.value)} />
          </Field>
        </>
      )}
      {photos?.shown /* below what is tapped: a photo that arrives moves nothing away under a thumb */}
      {photos?.take}
      <Button className="justify-self-start" onClick={onCancel}>
        Back
      </Button>
    </div>
  );
}

/** Time that is taken from a tap on, in whole seconds. */
function useStopwatch() {
  const [begun, setBegun] = useState<number | null>(null);
  const [shown, setShown] = useState(0);
  const elapsed = () => (begun === null ? 0 : Math.min(1800, Math.max(1, Math.round((performance.now() - begun) / 1000))));
  useEffect(() => {
    if (begun === null) return;
    const timer = setInterval(() => setShown(Math.round((performance.now() - begun) / 1000)), 1000);
    return () => clearInterval(timer);
  }, [begun]);
  return { begun: begun !== null, shown, elapsed, start: () => setBegun(performance.now()), stop: () => (setBegun(null), setShown(0)) };
}

/** A small miss is put right on the spot, and timed until it is said how bad it was. */
function PutRight({ fix }: { fix: ReturnType<typeof useStopwatch> }) {
  if (!fix.begun)
    return (
      <Button className="min-h-14 justify-self-start" onClick={fix.start}>
        <Hammer size={18} aria-hidden /> Put it right now
      </Button>
    );
  return (
    <div className="flex flex-wrap items-center gap-3 rounded-xl bg-chalk p-2">
      <span role="timer" className="grow">
        Putting it right: <b className="num">{seconds(fix.shown)}</b>. When it is done, tap how bad it was.
      </span>
      <Button onClick={fix.stop}>Leave it for rework</Button>
    </div>
  );
}

function Taps<T extends string>({ label, options, onPick }: { label: string; options: readonly T[]; onPick: (o: T) => void }) {
  return (
    <div role="group" aria-label={label} className="grid grid-cols-2 gap-2">
      {options.map((o) => (
        <button key={o} type="button" className={tap} onClick={() => onPick(o)}>
          {sentence(o)}
        </button>
      ))}
    </div>
  );
}
