import { NavLink, useParams } from "react-router";
import { People } from "./People";
import { Readings } from "./Readings";
import { You } from "./You";
import { useMay } from "../api/shop";
import { Head } from "../kit/kit";
import { Shop } from "./Shop";

const parts = [
  { to: "", label: "Shop", right: "see" },
  { to: "you", label: "You", right: "see" },
  { to: "people", label: "People", right: "keep people" },
  { to: "readings", label: "Weather and water", right: "see" },
] as const;

export function Settings() {
  const { part = "" } = useParams();
  const may = useMay();
  return (
    <>
      <Head title="Settings" />
      <nav aria-label="Parts of the settings" className="mb-4 flex flex-wrap gap-2">
        {parts
          .filter((p) => may(p.right))
          .map((p) => (
            <NavLink
              key={p.to}
              to={`/settings${p.to && `/${p.to}`}`}
              end
              className={({ isActive }) =>
                `inline-flex min-h-hit items-center rounded-xl border-2 px-4 ${isActive ? "border-tide bg-tide-wash font-semibold" : "border-line bg-paper hover:border-ink"}`
              }
            >
              {p.label}
            </NavLink>
          ))}
      </nav>
      {part === "you" ? <You /> : part === "people" ? <People /> : part === "readings" ? <Readings /> : <Shop />}
    </>
  );
}
