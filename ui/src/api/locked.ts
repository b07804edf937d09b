import { ask, client, Problem } from "./client";

const name = "uskel locked";

/** A shared tablet that was locked knows it, also when the server could not be told.
 *  Until the session is ended nobody is shown anything. */
export function remembersLocked(locked: boolean) {
  if (locked) localStorage.setItem(name, "1");
  else localStorage.removeItem(name);
}

/** Ends the session of a tablet that was locked; throws as long as the server cannot be told. */
export async function endLocked() {
  if (localStorage.getItem(name) === null) return;
  try {
    await ask(client.DELETE("/session"));
  } catch (error) {
    if (!(error instanceof Problem) || error.status !== 401) throw error;
  }
  remembersLocked(false);
}
