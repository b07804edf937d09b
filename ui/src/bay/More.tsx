import { Ban, Beaker, Gem, HandHelping, LifeBuoy, ListChecks, Milk, RotateCcw, Shirt, StickyNote, SunDim } from "lucide-react";
import { type ReactNode, useState } from "react";
import type { Schemas } from "../api/client";
import { useMe, useWords, useMay } from "../api/shop";
import { sentence, useQuantities } from "../kit/format";
import { Button, Field, inputLook, Tick } from "../kit/kit";
import { Num } from "../kit/number";
import { setDevice, useDevice } from "./device";
import { Replan } from "./Replan";
import type { State, Tapping, WashView } from "./useWash";

export type Asked = "cannot" | "note" | "bonded" | "hand over" | "reopen" | "device" | "replan" | "poured";

interface Props {
  view: WashView;
  state: State;
  step: Schemas["PlannedStep"] | undefined;
  tap: Tapping;
  close: () => void;
}

/** What else can happen in a bay. One tap each, or one question. */
export function More({ view, state, step, tap, close, ask }: Props & { ask: (a: Asked) => void }) {
  const did = state.steps.find((s) => s.id === step?.id);
  const open = did?.status === "running" || did?.status === "paused";
  const wet = state.dwelling.filter((d) => d.verdict === "working" && !d.dried);
  const now = (...made: Parameters<Tapping>) => {
    void tap(...made);
    close();
  };
  const at = step ? { step: step.id } : {};
  const filled = view.plan.steps.find((s) => s.id === step?.id);
  const product = filled?.mix?.product ?? filled?.product;
  const lead = useMay()("run the day");
  return (
    <Sheet title="What is it?" close={close}>
      <div className="grid grid-cols-2 gap-2">
        <Choose Icon={Ban} label="Cannot do this" why={step ? "" : "nothing is left"} onClick={() => ask("cannot")} />
        <Choose
          Icon={Shirt}
          label="Mitt dropped"
          why={open ? "" : "begin the step first"}
          onClick={() => step && now({ kind: "dropped", step: step.id })}
        />
        <Choose
          Icon={SunDim}
          label="Dried on the car"
          why={wet.length === 0 ? "no product is working on it" : ""}
          onClick={() => now(...wet.map((d) => ({ kind: "dried" as const, step: d.step })))}
        />
        <Choose
          Icon={Milk}
          label="Bottle empty"
          why={product ? "" : "no product in this step"}
          onClick={() =>
            now({ kind: "note", text: `Bottle empty: ${product}`, ...at }, { kind: "help", text: `${product} is empty`, ...at })
          }
        />
        <Choose
          Icon={LifeBuoy}
          label="Need help"
          why={state.help ? "already asked for" : ""}
          onClick={() => now({ kind: "help", ...at })}
        />
        <Choose Icon={Beaker} label="Other amount" why={product ? "" : "no product in this step"} onClick={() => ask("poured")} />
        <Choose Icon={Gem} label="Bonded matter" onClick={() => ask("bonded")} />
        <Choose Icon={HandHelping} label="Hand over" why={step ? "" : "nothing is left"} onClick={() => ask("hand over")} />
        <Choose Icon={StickyNote} label="Note" onClick={() => ask("note")} />
        <Choose
          Icon={RotateCcw}
          label="Reopen a step"
          why={state.steps.some((s) => s.status === "done") ? "" : "none is done"}
          onClick={() => ask("reopen")}
        />
        {lead && <Choose Icon={ListChecks} label="Change the plan" onClick={() => ask("replan")} />}
        <Choose label="This device" onClick={() => ask("device")} />
      </div>
    </Sheet>
  );
}

/** The question that follows, if one does. */
export function Question({ asked, ...rest }: Props & { asked: Asked }) {
  switch (asked) {
    case "cannot":
      return (
        <Words
          title="Why can it not be done?"
          label="Reason"
          reasons={reasons}
          send={(text) => ({ kind: "skip", text, ...(rest.step && { step: rest.step.id }) })}
          {...rest}
        />
      );
    case "note":
      return (
        <Words
          title="What did you see?"
          label="Note"
          reasons={[]}
          send={(text) => ({ kind: "note", text, ...(rest.step && { step: rest.step.id }) })}
          {...rest}
        />
      );
    case "bonded":
      return <Bonded {...rest} />;
    case "hand over":
      return <HandOver {...rest} />;
    case "reopen":
      return <Reopen {...rest} />;
    case "poured":
      return <Poured {...rest} />;
    case "replan":
      return <Replan {...rest} />;
    case "device":
      return <ThisDevice close={rest.close} />;
  }
}

function Sheet({ title, close, children }: { title: string; close: () => void; children: ReactNode }) {
  return (
    <section aria-label={title} className="grid gap-2 rounded-xl border-2 border-tide bg-paper p-3">
      <p className="text-lg font-semibold">{title}</p>
      {children}
      <Button className="min-h-[60px]" onClick={close}>
        Back
      </Button>
    </section>
  );
}

/** One thing to choose; where it cannot be chosen now it says why. */
function Choose({ Icon, label, onClick, why }: { Icon?: typeof Ban; label: string; onClick: () => void; why?: string }) {
  return (
    <Button className="min-h-[64px] justify-start! text-left leading-tight disabled:opacity-80" onClick={onClick} disabled={Boolean(why)}>
      {Icon && <Icon size={22} className="shrink-0" aria-hidden />}
      <span>
        {label}
        {why && <span className="block text-sm font-normal">{why}</span>}
      </span>
    </Button>
  );
}

const reasons = ["Not needed on this car", "Product ran out", "Machine is down", "No time: lead agreed"];

function Words({
  title,
  label,
  reasons,
  send,
  tap,
  close,
}: Props & { title: string; label: string; reasons: string[]; send: (text: string) => Parameters<Tapping>[0] }) {
  const [text, setText] = useState("");
  const done = (words: string) => {
    void tap(send(words));
    close();
  };
  return (
    <form
      className="grid gap-2 rounded-xl border-2 border-tide bg-paper p-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (text.trim()) done(text.trim());
      }}
    >
      <p className="text-lg font-semibold">{title}</p>
      {reasons.map((r) => (
        <Button key={r} className="min-h-[60px]" onClick={() => done(r)}>
          {r}
        </Button>
      ))}
      <input
        aria-label={label}
        className={`${inputLook} min-h-[60px]`}
        value={text}
        maxLength={1000}
        onChange={(e) => setText(e.target.value)}
        placeholder="In your words"
        autoFocus={reasons.length === 0}
      />
      <div className="grid grid-cols-2 gap-2">
        <Button className="min-h-[60px]" onClick={close}>
          Back
        </Button>
        <Button className="min-h-[60px]" look="act" type="submit" disabled={!text.trim()}>
          {label === "Note" ? "Note" : "Leave it out"}
        </Button>
      </div>
    </form>
  );
}

/** Bonded matter found in mid-wash: which, where, and what the scope says of it. */
function Bonded({ view, step, tap, close }: Props) {
  const [rule, setRule] = useState<WashView["matters"][number]>();
  const lit = view.plan.steps.find((s) => s.id === step?.id)?.zones ?? [];
  const words = useWords().data;
  const parts = words?.bodies.find((b) => b.body === view.spec.body)?.parts ?? [];
  const zones = [...parts].sort((a, b) => Number(lit.includes(b.zone)) - Number(lit.includes(a.zone)));
  const [zone, setZone] = useState<Schemas["Zone"]>();
  if (!rule)
    return (
      <Sheet title="What is it?" close={close}>
        <div className="grid grid-cols-2 gap-2">
          {view.matters.map((m) => (
            <Choose key={m.matter} label={sentence(m.matter)} onClick={() => setRule(m)} />
          ))}
        </div>
      </Sheet>
    );
  const at = zone ?? zones[0]?.zone;
  const found = (remedy: Schemas["Remedy"]) => {
    if (at) void tap({ kind: "bonded", matter: rule.matter, zone: at, remedy, ...(step && { step: step.id }) });
    close();
  };
  return (
    <Sheet title={`${sentence(rule.matter)}: ${rule.inScope ? "in scope" : "out of scope"}`} close={close}>
      <label className="grid gap-1">
        <span className="font-semibold">Where</span>
        <select className={`${inputLook} min-h-[60px]`} value={at} onChange={(e) => setZone(e.target.value as Schemas["Zone"])}>
          {zones.map((p) => (
            <option key={p.zone} value={p.zone}>
              {sentence(p.label)}
            </option>
          ))}
        </select>
      </label>
      <p className="text-lg leading-snug">{rule.says}</p>
      <Button look={rule.inScope ? "act" : "plain"} className="min-h-[64px]" onClick={() => found(rule.inScope ? "take off" : "ask")}>
        {rule.inScope ? "Take it off" : "Ask the lead"}
      </Button>
      <Button look={rule.inScope ? "plain" : "act"} className="min-h-[64px]" onClick={() => found("leave")}>
        Leave it and note it
      </Button>
    </Sheet>
  );
}

/** What is given to whom: this step, or the rest of the wash with it; only to who holds the skills it asks for. */
function HandOver({ view, state, step, tap, close }: Props) {
  const [rest, setRest] = useState<boolean>();
  const me = useMe().data?.id;
  const did = state.steps.find((s) => s.id === step?.id);
  const inHand = did && (did.status === "running" || did.status === "paused") ? step : undefined;
  if (rest === undefined)
    return (
      <Sheet title="Hand over what?" close={close}>
        <Choose
          label={inHand ? `This step: ${inHand.title}` : "This step"}
          why={inHand ? "" : "none is begun"}
          onClick={() => setRest(false)}
        />
        <Choose label="The rest of the wash" onClick={() => setRest(true)} />
      </Sheet>
    );
  const left = new Set(state.steps.filter((s) => s.status === "waiting" || s.id === inHand?.id).map((s) => s.id));
  const asked = rest ? [...left] : inHand ? [inHand.id] : [];
  const lists = asked.flatMap((id) => (view.takers?.[id] ? [view.takers[id]] : []));
  const giver = inHand ? did?.by : me;
  const unique = [...new Map([...view.crew, ...view.people].map((p) => [p.id, p])).values()];
  const others = unique.filter((p) => p.id !== giver && lists.every((able) => able.includes(p.id)));
  return (
    <Sheet title={`Who takes over ${rest ? "the rest of the wash" : (inHand?.title ?? "")}?`} close={close}>
      {lists.length > 0 && <p>It asks for skills: these hold them.</p>}
      {others.length === 0 && <p className="font-semibold">Nobody else here holds them. Ask the lead.</p>}
      <div className="grid grid-cols-2 gap-2">
        {others.map((p) => (
          <Choose
            key={p.id}
            label={p.name}
            onClick={() => {
              void tap({ kind: "hand over", to: p.id, ...(inHand && { step: inHand.id }), ...(rest && { rest }) });
              close();
            }}
          />
        ))}
      </div>
    </Sheet>
  );
}

/** How much of the step's product was really put in, where that is not what the plan asks: by volume, or counted in what the shop has. */
function Poured({ view, step, tap, close }: Props) {
  const q = useQuantities();
  const [count, setCount] = useState<number>();
  const [measure, setMeasure] = useState("");
  const filled = view.plan.steps.find((s) => s.id === step?.id);
  const holds = view.measures?.find((v) => v.name === measure)?.holds ?? q.small.ml;
  const said = count !== undefined && count >= 0 && count * holds <= mostPoured;
  return (
    <form
      className="grid gap-2 rounded-xl border-2 border-tide bg-paper p-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (!said || !step) return;
        void tap({ kind: "poured", step: step.id, ml: Math.round(count * holds * 10) / 10 });
        close();
      }}
    >
      <p className="text-lg font-semibold">How much {filled?.mix?.product ?? filled?.product} did you put in?</p>
      {filled?.mix && <p className="text-faded">The plan asks for {q.volume(filled.mix.ml)}.</p>}
      <Field label="Amount">
        <Num className="min-h-[60px]" value={count} onChange={setCount} autoFocus />
      </Field>
      <Field label="Counted in">
        <select className={`${inputLook} min-h-[60px]`} value={measure} onChange={(e) => setMeasure(e.target.value)}>
          <option value="">{q.small.unit}</option>
          {(view.measures ?? []).map((v) => (
            <option key={v.name} value={v.name}>{`${v.name}, ${q.volume(v.holds)}`}</option>
          ))}
        </select>
      </Field>
      <div className="grid grid-cols-2 gap-2">
        <Button className="min-h-[60px]" onClick={close}>
          Back
        </Button>
        <Button className="min-h-[60px]" look="act" type="submit" disabled={!said}>
          Save the amount
        </Button>
      </div>
    </form>
  );
}

/** What the server takes at most, ml. */
const mostPoured = 100_000;

/** A step that was done is taken in hand again: something of it was missed. The newest first. */
function Reopen({ view, state, step, tap, close }: Props) {
  const did = state.steps.find((s) => s.id === step?.id);
  const done = state.steps
    .filter((s) => s.status === "done" || s.status === "skipped")
    .sort((a, b) => (b.ended ?? "").localeCompare(a.ended ?? ""));
  return (
    <Sheet title="Reopen which step?" close={close}>
      {done.slice(0, 8).map((s) => (
        <Choose
          key={s.id}
          label={view.steps.find((x) => x.id === s.id)?.title ?? s.id}
          onClick={() => {
            const pause = did?.status === "running" && step ? [{ kind: "pause" as const, step: step.id }] : [];
            void tap(...pause, { kind: "reopen", step: s.id });
            close();
          }}
        />
      ))}
    </Sheet>
  );
}

/** Voice and pedal: kept on this device, whoever holds it. */
function ThisDevice({ close }: { close: () => void }) {
  const device = useDevice();
  return (
    <Sheet title="This device" close={close}>
      <Tick
        label="Say steps and dwells aloud"
        on={device.voice}
        onChange={(on) => setDevice({ voice: on })}
        className="min-h-[60px] text-lg"
      />
      <label className="grid gap-1">
        <span className="font-semibold">Foot pedal: press it here</span>
        <input
          className={`${inputLook} num min-h-[60px]`}
          readOnly
          value={device.pedal === " " ? "Space" : device.pedal || "none"}
          onKeyDown={(e) => {
            if (e.key === "Tab" || e.key === "Escape") return;
            e.preventDefault();
            setDevice({ pedal: e.key === "Backspace" ? "" : e.key });
          }}
        />
      </label>
      <p className="text-faded">
        It does the next thing: the mitt&apos;s rinse while one is due, else the big button. Backspace takes it away.
      </p>
    </Sheet>
  );
}
