import { afterEach, describe, expect, it, vi } from "vitest";
import { draftOf, dropDraft, keepDraft } from "./draft";

/** A browser's storage that takes so many characters. */
function storage(room: number) {
  const items = new Map<string, string>();
  vi.stubGlobal("localStorage", {
    getItem: (k: string) => items.get(k) ?? null,
    setItem: (k: string, v: string) => {
      if (v.length > room) throw new DOMException("full", "QuotaExceededError");
      items.set(k, v);
    },
    removeItem: (k: string) => items.delete(k),
  });
  return items;
}

afterEach(() => void vi.unstubAllGlobals());

describe("a draft", () => {
  it("is there until it is dropped, each under its key", () => {
    storage(1000);
    keepDraft("look-over.a", { version: 3, look: { salt: true } });
    keepDraft("look-over.b", { version: 1 });
    expect(draftOf("look-over.a")).toEqual({ version: 3, look: { salt: true } });
    dropDraft("look-over.a");
    expect(draftOf("look-over.a")).toBeNull();
    expect(draftOf("look-over.b")).toEqual({ version: 1 });
  });

  it("that does not fit leaves the one before it", () => {
    storage(40);
    keepDraft("x", "short");
    keepDraft("x", "long ".repeat(20));
    expect(draftOf("x")).toBe("short");
  });

  it("that cannot be read is none", () => {
    storage(1000).set("uskel.x", "{half");
    expect(draftOf("x")).toBeNull();
  });

  it("does no harm in a browser that keeps nothing", () => {
    expect(draftOf("x")).toBeNull();
    expect(() => {
      keepDraft("x", 1);
      dropDraft("x");
    }).not.toThrow();
  });
});
