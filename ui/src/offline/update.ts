/** A new version of the application waits until somebody takes it: it never changes under a wash. */
let waiting: ServiceWorker | null = null;
const watchers = new Set<() => void>();

function found(worker: ServiceWorker | null) {
  waiting = worker;
  watchers.forEach((w) => w());
}

/** Keeps the application on this device, so that it opens without a connection. */
export async function install() {
  if (!("serviceWorker" in navigator)) return;
  try {
    const kept = await navigator.serviceWorker.register("/sw.js");
    if (kept.waiting && navigator.serviceWorker.controller) found(kept.waiting);
    kept.addEventListener("updatefound", () => {
      const next = kept.installing;
      next?.addEventListener("statechange", () => {
        if (next.state === "installed" && navigator.serviceWorker.controller) found(next);
      });
    });
  } catch {
    // no secure connection: the application works, but not without a network
  }
}

export const updateWaits = () => waiting !== null;

export function watchUpdate(changed: () => void) {
  watchers.add(changed);
  return () => void watchers.delete(changed);
}

/** Takes the new version: the page opens anew with it. */
export function takeUpdate() {
  navigator.serviceWorker.addEventListener("controllerchange", () => window.location.reload(), { once: true });
  waiting?.postMessage({ type: "SKIP_WAITING" });
}
