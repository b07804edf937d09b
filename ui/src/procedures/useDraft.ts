import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { type Schemas, ask, client, Problem } from "../api/client";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";
import type { Procedure } from "./words";
import { keys } from "../api/keys";

interface Kept {
  revision: number;
  doc: Procedure;
}

const key = (id: string) => `procedure.${id}`;

const longestHistory = 200;
const saveAfter = 700; // ms without a key

export type Saving = "saved" | "typing" | "saving" | "waiting" | "refused";

/** A draft being written: undo and redo, saved by itself, kept on this device until the server has it. */
export function useDraft(id: string, first: Kept) {
  const queries = useQueryClient();
  const [before] = useState(() => draftOf<Kept>(key(id)));
  const mine = before && before.revision === first.revision ? before.doc : first.doc;
  const [doc, setDoc] = useState<Procedure>(mine);
  const [past, setPast] = useState<Procedure[]>([]);
  const [future, setFuture] = useState<Procedure[]>([]);
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const [saving, setSaving] = useState<Saving>(mine === first.doc ? "saved" : "typing");
  const revision = useRef(first.revision);
  const latest = useRef(doc);
  const busy = useRef(false);

  const put = useCallback(
    (next: Procedure) => {
      latest.current = next;
      setDoc(next);
      setSaving("typing");
      keepDraft(key(id), { revision: revision.current, doc: next });
    },
    [id],
  );
  const change = useCallback(
    (make: (p: Procedure) => Procedure) => {
      const was = latest.current;
      const next = make(was);
      if (next === was) return;
      setPast((p) => [...p.slice(-longestHistory), was]);
      setFuture([]);
      put(next);
    },
    [put],
  );
  const undo = useCallback(() => {
    const back = past.at(-1);
    if (!back) return;
    setPast(past.slice(0, -1));
    setFuture([latest.current, ...future]);
    put(back);
  }, [past, future, put]);
  const redo = useCallback(() => {
    const next = future[0];
    if (!next) return;
    setFuture(future.slice(1));
    setPast([...past, latest.current]);
    put(next);
  }, [past, future, put]);

  const save = useCallback(async (): Promise<boolean> => {
    if (busy.current) return false;
    busy.current = true;
    const sent = latest.current;
    setSaving("saving");
    try {
      const got = await ask(
        client.PUT("/procedures/{id}/draft", { params: { path: { id } }, body: { revision: revision.current, procedure: sent } }),
      );
      revision.current = got.revision;
      setTrouble(null);
      if (latest.current === sent) {
        dropDraft(key(id));
        setSaving("saved");
      } else setSaving("typing");
      return true;
    } catch (error) {
      const problem = error instanceof Problem ? error : new Problem(0, "Not saved.");
      setTrouble(problem);
      setSaving(problem.passing ? "waiting" : "refused");
      return false;
    } finally {
      busy.current = false;
    }
  }, [id]);

  useEffect(() => {
    if (saving !== "typing" && saving !== "waiting") return;
    const timer = setTimeout(() => void save(), saving === "waiting" ? 3000 : saveAfter);
    return () => clearTimeout(timer);
  }, [doc, saving, save]);

  /** After a refusal because somebody else saved: mine goes over theirs. */
  const overwrite = useCallback(async () => {
    const now = await ask(client.GET("/procedures/{id}", { params: { path: { id } } }));
    if (now.draft) revision.current = now.draft.revision;
    await save();
  }, [id, save]);
  /** Or theirs takes the place of mine, which undo brings back. */
  const takeTheirs = useCallback(async () => {
    const now = await ask(client.GET("/procedures/{id}", { params: { path: { id } } }));
    if (!now.draft) return;
    revision.current = now.draft.revision;
    setTrouble(null);
    setPast((p) => [...p, latest.current]);
    latest.current = now.draft.procedure;
    setDoc(now.draft.procedure);
    setSaving("saved");
    dropDraft(key(id));
  }, [id]);
  const forget = useCallback(() => {
    dropDraft(key(id));
    queries.removeQueries({ queryKey: keys.procedure(id) });
    void queries.invalidateQueries({ queryKey: keys.procedures() });
  }, [id, queries]);

  return {
    doc,
    change,
    undo: past.length ? undo : undefined,
    redo: future.length ? redo : undefined,
    saving,
    trouble,
    save,
    overwrite,
    takeTheirs,
    forget,
    revision,
  };
}

export type TryOn = Schemas["TryOn"];

export type DraftHandle = ReturnType<typeof useDraft>;

/** What the sense check and a trial say of the draft as it stands. */
export function useTried(doc: Procedure, on: TryOn | undefined) {
  return useQuery({
    queryKey: keys.try(doc, on),
    queryFn: () => ask(client.POST("/procedures-try", { body: { procedure: doc, ...(on ? { on } : {}) } })),
    placeholderData: (last) => last,
    gcTime: 5_000,
    staleTime: Infinity,
  });
}
