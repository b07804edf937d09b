import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useDeferredValue, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { useMay, useSettings } from "../api/shop";
import type { Zone } from "../car/shape";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";
import { keys } from "../api/keys";

export type Look = Schemas["LookOver"];
type Matter = Schemas["Matter"];

/** The draft on this device, whichever version it was made from. */
const draftKey = (id: string) => `look-over.${id}`;

interface Draft {
  version: number;
  look: Look;
}

/** How many changes can be taken back. */
const remembered = 60;

/** A look-over while it is made: the draft, its past, what the brush does, and what the core says of it. */
export function useSheet(id: string, view: Schemas["LookOverView"]) {
  const editable = useMay()("look over") && !view.booking.washId;
  const queries = useQueryClient();
  const go = useNavigate();
  const [draft] = useState(() => draftOf<Draft>(draftKey(id)));
  const kept = draft?.version === view.version ? draft.look : null;
  const [overtaken, setOvertaken] = useState(draft && !kept ? draft.look : null);
  const [look, setLook] = useState<Look>(kept ?? view.lookOver);
  const [past, setPast] = useState<Look[]>([]);
  const [touched, setTouched] = useState(false);
  const [zone, setZone] = useState<Zone | null>(null);
  const [brush, setBrush] = useState<number | null>(null);
  const [matter, setMatter] = useState<Matter>("bugs");
  const [flagging, setFlagging] = useState(false);

  useEffect(() => {
    if (touched) keepDraft(draftKey(id), { version: view.version, look });
  }, [touched, id, view.version, look]);
  // Strokes of the brush come faster than the page is drawn: each starts from what the one before has made.
  const edit = (next: (l: Look) => Look) => {
    setTouched(true);
    setOvertaken(null);
    setPast((p) => [...p.slice(-remembered), look]);
    setLook(next);
  };
  const change = (next: Look) => edit(() => next);
  const undo = () => {
    const last = past.at(-1);
    if (!last) return;
    setPast(past.slice(0, -1));
    setLook(last);
  };
  const later = useDeferredValue(look);
  const judged = useQuery({
    queryKey: keys.judge(id, later),
    queryFn: () => ask(client.POST("/bookings/{id}/judge", { params: { path: { id } }, body: later })),
    placeholderData: keepPreviousData,
    enabled: editable,
    gcTime: 10_000,
  });
  const save = useMutation({
    mutationFn: () =>
      ask(client.PUT("/bookings/{id}/look-over", { params: { path: { id } }, body: { version: view.version, lookOver: look } })),
    onSuccess: (now) => {
      dropDraft(draftKey(id));
      queries.setQueryData(keys.lookOver(id), now);
      void queries.invalidateQueries({ queryKey: keys.yard() });
      void queries.invalidateQueries({ queryKey: keys.plan(id) });
      void go(`/plan/${id}`);
    },
  });
  const dropMine = () => {
    dropDraft(draftKey(id));
    setOvertaken(null);
  };
  const doing = { ...acts(edit, matter), zone, setZone, brush, setBrush, matter, setMatter, flagging, setFlagging };
  return { ...doing, editable, look, change, undo, undoes: past.length > 0, judged, save, mine: kept !== null, overtaken, dropMine };
}

export type Sheet = ReturnType<typeof useSheet>;

/** What can be done to the zones of a look-over. */
function acts(edit: (next: (l: Look) => Look) => void, matter: Matter) {
  const grade = (zones: readonly Zone[], g: number) =>
    edit((l) => ({ ...l, grades: { ...l.grades, ...Object.fromEntries(zones.map((z) => [z, g])) } }));
  const ungrade = (z: Zone) => edit((l) => ({ ...l, grades: Object.fromEntries(Object.entries(l.grades).filter(([of]) => of !== z)) }));
  const flag = (z: Zone) =>
    edit((l) => {
      const others = l.bonded.filter((b) => !(b.zone === z && b.matter === matter));
      return { ...l, bonded: others.length < l.bonded.length ? others : [...others, { zone: z, matter }] };
    });
  return { grade, ungrade, flag };
}

/** The service that a look-over is for, as the shop sells it. */
export const useOrdered = (id: string) => useSettings().data?.settings.services?.find((s) => s.id === id);

export const inScope = (ordered: Schemas["Service"] | undefined, matter: Matter) => ordered?.takes?.includes(matter) ?? false;
