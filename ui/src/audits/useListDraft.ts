import { useState } from "react";
import type { Schemas } from "../api/client";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";

type List = Schemas["Checklist"];

export const draftKey = (id: string) => `checklist ${id}`;

/** Whether a list was begun on this device and has not been published. */
export const isFresh = (id: string) => draftOf<List>(draftKey(id))?.version === 0;

/** A list as it is written: what is typed is kept on this device until it is published. */
export function useListDraft(id: string, newest: List | undefined) {
  const blank: List = { id, version: 0, title: id, when: {}, items: [] };
  const base = newest ?? blank;
  const [list, setList] = useState<List>(() => {
    const draft = draftOf<List>(draftKey(id));
    return draft?.version === base.version ? draft : base;
  });
  const set = (change: Partial<List>) => {
    const next = { ...list, ...change };
    keepDraft(draftKey(id), next);
    setList(next);
  };
  const back = () => {
    dropDraft(draftKey(id));
    setList(base);
  };
  return { list, set, back, changed: list !== base };
}
