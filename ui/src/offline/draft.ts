/** What somebody is writing, kept on this device by key until the server has it. A browser that keeps nothing goes on without. */
export function draftOf<T>(key: string): T | null {
  try {
    return JSON.parse(localStorage.getItem(`uskel.${key}`) ?? "null") as T | null;
  } catch {
    return null;
  }
}

/** The rest of the keys that drafts with a beginning are kept under. */
export function draftsOf(beginning: string): string[] {
  try {
    const from = `uskel.${beginning}`;
    return Object.keys(localStorage)
      .filter((k) => k.startsWith(from))
      .map((k) => k.slice(from.length));
  } catch {
    return [];
  }
}

export function keepDraft(key: string, draft: unknown) {
  try {
    localStorage.setItem(`uskel.${key}`, JSON.stringify(draft));
  } catch {
    // no room, or private browsing: it lives in this page
  }
}

export function dropDraft(key: string) {
  try {
    localStorage.removeItem(`uskel.${key}`);
  } catch {
    // nothing was kept
  }
}
