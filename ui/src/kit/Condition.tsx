import { Plus, X } from "lucide-react";
import type { Schemas } from "../api/client";
import { useWords } from "../api/shop";
import { Button, inputLook } from "./kit";
import { Count } from "./number";

type Rule = Schemas["Rule"];
type Info = Schemas["FactInfo"];

const small = `${inputLook} min-h-hit w-auto! py-1 px-2!`;

type Kind = "always" | "all" | "any" | "not" | "fact";

const kindOf = (r: Rule): Kind => (r.fact ? "fact" : r.not ? "not" : r.any ? "any" : r.all ? "all" : "always");

/** A first comparison on a fact that makes sense for it. */
function compare(info: Info): Rule {
  if (info.kind === "number") return { fact: info.fact, how: "at least", value: Math.max(info.least ?? 0, 1) };
  if (info.kind === "yes or no") return { fact: info.fact, how: "is", value: "yes" };
  return { fact: info.fact, how: "is", value: info.choices?.[0] ?? "" };
}

/** A condition as plain sentences: all of, any of, not, and comparisons on facts. */
export function Condition({ rule, onChange, label }: { rule: Rule; onChange: (r: Rule) => void; label: string }) {
  const facts = useWords().data?.facts ?? [];
  if (facts.length === 0) return null;
  return (
    <fieldset>
      <legend className="mb-1 font-semibold">{label}</legend>
      <Node rule={rule} onChange={onChange} facts={facts} depth={0} />
    </fieldset>
  );
}

function Node({
  rule,
  onChange,
  onRemove,
  facts,
  depth,
}: {
  rule: Rule;
  onChange: (r: Rule) => void;
  onRemove?: () => void;
  facts: Info[];
  depth: number;
}) {
  const kind = kindOf(rule);
  const first = facts[0] as Info;
  const become = (k: Kind) => {
    const own: Rule = kind === "always" ? compare(first) : rule;
    const parts = rule.all ?? rule.any ?? (rule.not ? [rule.not] : [own]);
    if (k === "always") onChange({});
    else if (k === "all") onChange({ all: parts });
    else if (k === "any") onChange({ any: parts });
    else if (k === "not") onChange({ not: parts.length === 1 ? (parts[0] as Rule) : { all: parts } });
    else onChange(parts.find((p) => p.fact) ?? compare(first));
  };
  const parts = rule.all ?? rule.any;
  const put = (next: Rule[]) => onChange(rule.any ? { any: next } : { all: next });
  return (
    <div className={depth ? "rounded-lg border-l-4 border-line pl-2" : ""}>
      <div className="flex flex-wrap items-center gap-1.5">
        <select aria-label="Kind of condition" className={small} value={kind} onChange={(e) => become(e.target.value as Kind)}>
          {depth === 0 && <option value="always">always</option>}
          <option value="fact">when</option>
          <option value="all">when all of</option>
          <option value="any">when any of</option>
          <option value="not">when not</option>
        </select>
        {kind === "fact" && <Comparison rule={rule} onChange={onChange} facts={facts} />}
        {onRemove && (
          <button
            type="button"
            aria-label="Take this part out"
            onClick={onRemove}
            className="grid h-hit w-hit place-items-center rounded-lg hover:bg-chalk"
          >
            <X size={16} aria-hidden />
          </button>
        )}
      </div>
      {rule.not && (
        <div className="mt-1.5 ml-3">
          <Node rule={rule.not} onChange={(r) => onChange({ not: r })} facts={facts} depth={depth + 1} />
        </div>
      )}
      {parts && (
        <div className="mt-1.5 ml-3 grid gap-1.5">
          {parts.map((p, i) => (
            <Node
              key={i}
              rule={p}
              facts={facts}
              depth={depth + 1}
              onChange={(r) => put(parts.map((x, j) => (j === i ? r : x)))}
              {...(parts.length > 1 ? { onRemove: () => put(parts.filter((_, j) => j !== i)) } : {})}
            />
          ))}
          <Button className="min-h-hit justify-self-start px-3!" onClick={() => put([...parts, compare(first)])}>
            <Plus size={15} aria-hidden /> and another
          </Button>
        </div>
      )}
    </div>
  );
}

function Comparison({ rule, onChange, facts }: { rule: Rule; onChange: (r: Rule) => void; facts: Info[] }) {
  const info = facts.find((f) => f.fact === rule.fact) ?? (facts[0] as Info);
  const pick = (fact: string) => {
    const next = facts.find((f) => f.fact === fact);
    if (next) onChange(compare(next));
  };
  return (
    <>
      <select aria-label="Fact" className={`${small} max-w-64`} value={rule.fact} onChange={(e) => pick(e.target.value)}>
        <optgroup label="What is seen">
          {facts
            .filter((f) => !f.question)
            .map((f) => (
              <option key={f.fact} value={f.fact}>
                {f.label}
              </option>
            ))}
        </optgroup>
        <optgroup label="What the trade disagrees on">
          {facts
            .filter((f) => f.question)
            .map((f) => (
              <option key={f.fact} value={f.fact}>
                {f.label}
              </option>
            ))}
        </optgroup>
      </select>
      {info.kind === "number" && (
        <>
          <select
            aria-label="How"
            className={small}
            value={rule.how}
            onChange={(e) => onChange({ ...rule, how: e.target.value as NonNullable<Rule["how"]> })}
          >
            <option>at least</option>
            <option>at most</option>
            <option>is</option>
          </select>
          <Count
            aria-label="Number"
            className="w-20!"
            value={Number(rule.value ?? 0)}
            min={info.least ?? 0}
            max={info.most || Infinity}
            onChange={(value) => onChange({ ...rule, value })}
          />
          {info.unit && <span>{info.unit}</span>}
        </>
      )}
      {info.kind === "yes or no" && (
        <select
          aria-label="Answer"
          className={small}
          value={String(rule.value)}
          onChange={(e) => onChange({ fact: info.fact, how: "is", value: e.target.value })}
        >
          <option>yes</option>
          <option>no</option>
        </select>
      )}
      {info.kind === "choice" && (
        <>
          <select
            aria-label="How"
            className={small}
            value={rule.how}
            onChange={(e) => onChange({ ...rule, how: e.target.value as NonNullable<Rule["how"]> })}
          >
            <option>is</option>
            <option>is not</option>
          </select>
          <select
            aria-label="Answer"
            className={small}
            value={String(rule.value)}
            onChange={(e) => onChange({ ...rule, value: e.target.value })}
          >
            {info.choices?.map((x) => (
              <option key={x}>{x}</option>
            ))}
          </select>
        </>
      )}
    </>
  );
}
