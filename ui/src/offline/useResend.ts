import { useEffect } from "react";

const every = 10_000; // ms

/** Sends what waits at once, whenever the connection is back, and every few seconds besides. */
export function useResend(send: () => Promise<void>) {
  useEffect(() => {
    const again = () => void send();
    again();
    const timer = setInterval(again, every);
    window.addEventListener("online", again);
    return () => {
      clearInterval(timer);
      window.removeEventListener("online", again);
    };
  }, [send]);
}
