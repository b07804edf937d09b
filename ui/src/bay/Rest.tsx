import { useQuery } from "@tanstack/react-query";
import { AlertTriangle } from "lucide-react";
import { ask, client } from "../api/client";
import { askKept } from "../offline/kept";
import { hour } from "../kit/format";
import { Lanes } from "../ribbon/Lanes";
import { keys } from "../api/keys";

/** The rest of the wash, laid out anew after every tap. Without a connection it stays as it was: the taps do not need it. */
export function useRest(id: string, taps: number | undefined) {
  return useQuery({
    queryKey: keys.rest(id, taps),
    queryFn: () => askKept(`rest ${id}`, () => ask(client.GET("/washes/{id}/timeline", { params: { path: { id } } }))),
    enabled: taps !== undefined,
    placeholderData: (last) => last,
    refetchInterval: 60_000,
    retry: false,
  }).data;
}

/** When it will be ready if it goes on like this, or what will be late, while there is time to act. Its height is there before its words are: nothing may move under a
 *  thumb. */
export function RestLine({ id, taps }: { id: string; taps: number }) {
  const rest = useRest(id, taps);
  const when = (s: number) => rest && hour(new Date(Date.parse(rest.zero) + s * 1000));
  return (
    <div className="h-13 overflow-hidden" role="status">
      {rest?.late[0] ? (
        <p className="flex items-start gap-2 leading-tight font-semibold text-rust">
          <AlertTriangle size={19} className="mt-0.5 shrink-0" aria-hidden /> {rest.late[0]}
        </p>
      ) : (
        rest?.promise && (
          <p className="leading-tight font-semibold">
            Likely ready <span className="num">{when(rest.promise.p50)}</span>; safe promise (4 of 5){" "}
            <span className="num">{when(rest.promise.p80)}</span>
          </p>
        )
      )}
    </div>
  );
}

/** The whole wash as a ribbon, below what a washer needs. */
export function RestRibbon({ id, taps, at }: { id: string; taps: number; at: number }) {
  const rest = useRest(id, taps);
  if (!rest) return null;
  return (
    <details className="mx-auto max-w-xl px-3 pb-3 sm:px-4">
      <summary className="flex min-h-[60px] items-center font-semibold">The rest of the wash</summary>
      {rest.late.slice(1).map((w) => (
        <p key={w} className="mb-1 font-semibold text-rust">
          {w}
        </p>
      ))}
      <Lanes
        slots={rest.timeline.slots}
        soaks={rest.timeline.soaks}
        people={rest.crew.map((p) => p.id)}
        names={rest.timeline.names ?? {}}
        titles={rest.titles}
        finish={rest.timeline.finish}
        zero={rest.zero}
        now={(at - Date.parse(rest.zero)) / 1000}
      />
    </details>
  );
}
