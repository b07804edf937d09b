import { useQuery } from "@tanstack/react-query";
import { type Schemas, ask, client } from "../api/client";
import { Select } from "./kit";
import { keys } from "../api/keys";

export const useQuestions = () =>
  useQuery({ queryKey: keys.questions(), queryFn: () => ask(client.GET("/questions")), staleTime: Infinity });

/** Disagreements of the trade, each with the reasons of both schools. */
export function Pins({
  pins,
  onChange,
  where,
}: {
  pins: Record<string, string>;
  onChange: (pins: Record<string, string>) => void;
  where: string;
}) {
  const questions = useQuestions().data ?? [];
  const set = (q: Schemas["QuestionView"], value: string) => {
    const rest = Object.fromEntries(Object.entries(pins).filter(([fact]) => fact !== q.fact));
    onChange(value ? { ...rest, [q.fact]: value } : rest);
  };
  return (
    <details open={Object.keys(pins).length > 0}>
      <summary className="font-bold">Where practitioners disagree</summary>
      <ul className="mt-2 grid gap-3">
        {questions.map((q) => (
          <li key={q.fact} className="grid items-start gap-x-3 md:grid-cols-[1fr_13rem]">
            <div>
              <b>{q.text}</b>
              {q.schools.map((s) => (
                <span key={s.value} className="block text-sm text-faded">
                  {s.value}: {s.reason}
                </span>
              ))}
              <span className="block text-sm">Default: {q.default}.</span>
            </div>
            <Select
              label={q.text}
              value={pins[q.fact] ?? ""}
              onChange={(v) => set(q, v)}
              options={[{ value: "", label: where }, ...q.schools.map((s) => ({ value: s.value, label: s.value }))]}
            />
          </li>
        ))}
      </ul>
    </details>
  );
}
