/** An id of the device's own (RFC 9562, version 4), also where the browser has no secure context. */
export function newId(): string {
  const b = crypto.getRandomValues(new Uint8Array(16));
  b[6] = ((b[6] ?? 0) & 0x0f) | 0x40;
  b[8] = ((b[8] ?? 0) & 0x3f) | 0x80;
  const hex = [...b].map((x) => x.toString(16).padStart(2, "0")).join("");
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`;
}

const key = "uskel device";
let made: string | undefined;

/** This device's own id, made once and kept as long as the browser keeps anything. */
export function thisDevice(): string {
  if (made) return made;
  try {
    made = localStorage.getItem(key) ?? newId();
    localStorage.setItem(key, made);
  } catch {
    made = newId(); // a browser that keeps nothing: the id of this page
  }
  return made;
}
