// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeAll, beforeEach, describe, expect, it, vi } from "vitest";
import { keys } from "../api/keys";
import cases from "./bodies.cases.json";

afterEach(cleanup);

/** Whether the page is a phone's: asked when the kit is loaded. */
const media = { matches: false, addEventListener: () => undefined, removeEventListener: () => undefined };
beforeAll(() => {
  vi.stubGlobal("matchMedia", () => media);
  Element.prototype.releasePointerCapture = () => undefined;
});
beforeEach(() => void (media.matches = false));

const hatch = cases.find((c) => c.body === "hatch");
const part = (zone: string) => ({ zone, label: zone, surface: "paint", band: "upper" });

async function car(props: { onPick?: (zone: string) => void; onPaint?: (zone: string) => void; grades?: Record<string, number> }) {
  const { Car } = await import("./Car");
  const queries = new QueryClient();
  queries.setQueryData(keys.words(), {
    bodies: [{ body: "hatch", label: "Hatch", profile: hatch?.profile, parts: hatch?.zones.map(part) }],
  });
  render(
    <QueryClientProvider client={queries}>
      <Car body="hatch" {...props} />
    </QueryClientProvider>,
  );
}

const zone = (name: string) => {
  const found = document.querySelector(`[data-zone="${name}"]`);
  if (!found) throw new Error(`no zone ${name}`);
  return found;
};

describe("the unfolded car", () => {
  it("is a picture where nothing is picked, and a group of buttons where it is", async () => {
    await car({});
    expect(screen.getByRole("img", { name: "Hatch, unfolded" })).toBeTruthy();
    cleanup();
    await car({ onPick: () => undefined });
    expect(screen.getAllByRole("button").length).toBe(hatch?.zones.length);
  });

  it("picks by tap and by key, says grades, and walks with the arrows", async () => {
    const picked: string[] = [];
    await car({ onPick: (z) => picked.push(z), grades: { roof: 3 } });
    fireEvent.click(zone("bonnet"));
    fireEvent.keyDown(zone("roof"), { key: "Enter" });
    expect(picked).toEqual(["bonnet", "roof"]);
    expect(zone("roof").getAttribute("aria-label")).toBe("roof, grade 3");
    fireEvent.keyDown(zone("roof"), { key: "ArrowLeft" });
    expect(document.activeElement?.getAttribute("data-zone")).toBe("windscreen");
  });

  it("is drawn over while the pointer is down", async () => {
    const painted: string[] = [];
    await car({ onPick: () => undefined, onPaint: (z) => painted.push(z) });
    fireEvent.pointerEnter(zone("bonnet"), { buttons: 0 });
    fireEvent.pointerEnter(zone("roof"), { buttons: 1 });
    expect(painted).toEqual(["roof"]);
  });

  it("stands upright on a phone, front up, and the arrows follow what is seen", async () => {
    await car({ onPick: () => undefined });
    const lying = screen.getByRole("group").getAttribute("viewBox")?.split(" ").map(Number) ?? [];
    cleanup();
    media.matches = true;
    await car({ onPick: () => undefined });
    const upright = screen.getByRole("group").getAttribute("viewBox")?.split(" ").map(Number) ?? [];
    expect(upright.slice(2)).toEqual(lying.slice(2).reverse());
    zone("roof");
    fireEvent.keyDown(zone("roof"), { key: "ArrowUp" });
    expect(document.activeElement?.getAttribute("data-zone")).toBe("windscreen");
  });
});
