import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { ask, client, type Schemas } from "../api/client";
import { keys } from "../api/keys";
import { askKept } from "../offline/kept";
import { hour } from "./format";
import { say } from "./notice";

/** What is in somebody's hands, and their next car; without a connection as it was known last. */
export const useYours = (on = true) =>
  useQuery({
    queryKey: keys.yours(),
    queryFn: () => askKept("yours", () => ask(client.GET("/yours"))),
    refetchInterval: 60_000,
    enabled: on,
  });

/** Who gave it, and what: "Osk Pellow handed you Mitt and the rest of the wash, 10:32." */
export const handedWords = (h: Schemas["YoursHanded"]) =>
  `${h.by} handed you ${[h.step, h.rest && "the rest of the wash"].filter(Boolean).join(" and ")}, ${hour(h.at)}.`;

/** Says on whatever page somebody is that work was handed to them; what was there before is not said again. */
export function useHandedNotice(on: boolean) {
  const { data } = useYours(on);
  const handed = data?.hand?.handed;
  const known = useRef<string>(undefined);
  useEffect(() => {
    if (!data) return;
    const at = handed?.at ?? "";
    if (known.current !== undefined && handed && at > known.current) say(handedWords(handed));
    if (at > (known.current ?? "")) known.current = at;
    known.current ??= at;
  }, [data, handed]);
}
