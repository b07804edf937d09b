import { useQuery } from "@tanstack/react-query";
import { AlertTriangle } from "lucide-react";
import { ask, client, type Schemas } from "../api/client";
import { keys } from "../api/keys";
import { sentence } from "../kit/format";
import { Empty, Panel, Tag } from "../kit/kit";

const order: Schemas["NeedKind"][] = ["mix", "product", "cloths", "water"];
const titles: Record<Schemas["NeedKind"], string> = {
  mix: "Make before opening",
  product: "Products",
  cloths: "Clean cloths",
  water: "Water",
};

/** What today's washes need, against what there is: what to make and fetch before opening. */
export function Today() {
  const need = useQuery({ queryKey: keys.enough(), queryFn: () => ask(client.GET("/shelf/today")) });
  const needs = need.data ?? [];
  const short = needs.filter((n) => n.short);
  return (
    <Panel
      title="Enough for today?"
      aside={
        need.data && needs.length > 0 && <Tag tone={short.length ? "rust" : "moss"}>{short.length ? `${short.length} short` : "Yes"}</Tag>
      }
    >
      {need.isPending && <p className="text-faded">Adding up today’s washes…</p>}
      {need.error && <p className="text-faded">Cannot add up today’s washes now: {need.error.message}</p>}
      {need.data && needs.length === 0 && <Empty>No wash is still to come today.</Empty>}
      <div className="grid gap-x-6 gap-y-3 md:grid-cols-2">
        {order.map((kind) => {
          const of = needs.filter((n) => n.kind === kind);
          return (
            of.length > 0 && (
              <div key={kind}>
                <h3 className="font-bold">{titles[kind]}</h3>
                <ul>
                  {of.map((n) => (
                    <li key={n.what} className={n.short ? "font-semibold text-rust" : ""}>
                      {n.short && <AlertTriangle size={16} className="mr-1 inline align-[-2px]" aria-hidden />}
                      {sentence(n.what)}: {n.says}
                    </li>
                  ))}
                </ul>
              </div>
            )
          );
        })}
      </div>
    </Panel>
  );
}
