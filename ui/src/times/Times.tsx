import { useState } from "react";
import { NavLink, useParams } from "react-router";
import { Choice, Head } from "../kit/kit";
import { Charts } from "./Charts";
import { Kinds } from "./Kinds";
import { Learning } from "./Learning";
import { Overview } from "./Overview";
import { Standards } from "./Standards";
import { Washes } from "./Washes";

/** The views of the times, the first one being what a lead would ask first. */
const views = [
  { to: "", label: "Where the minutes go", View: Overview },
  { to: "standards", label: "Standard times", View: Standards },
  { to: "charts", label: "Charts", View: Charts },
  { to: "kinds", label: "By kind", View: Kinds },
  { to: "learning", label: "Learning", View: Learning },
  { to: "washes", label: "Washes", View: Washes },
] as const;

export type Days = "14" | "28" | "91" | "182";

/** The period is kept while one goes from view to view. */
let last: Days = "28";

export function Times() {
  const { view = "" } = useParams();
  const [days, setDays] = useState<Days>(last);
  const { View } = views.find((v) => v.to === view) ?? views[0];
  return (
    <>
      <Head title="Times">
        <Choice
          label="Last"
          value={days}
          onChange={(d) => setDays((last = d))}
          options={[
            { value: "14", label: "2 weeks" },
            { value: "28", label: "4 weeks" },
            { value: "91", label: "13 weeks" },
            { value: "182", label: "26 weeks" },
          ]}
        />
      </Head>
      <nav aria-label="Views of the times" className="mb-4 flex flex-wrap gap-x-1 border-b-2 border-line">
        {views.map((v) => (
          <NavLink
            key={v.to}
            to={v.to ? `/times/${v.to}` : "/times"}
            end
            className={({ isActive }) =>
              `-mb-0.5 flex min-h-hit items-center border-b-4 px-3 ${isActive ? "border-tide font-bold" : "border-transparent hover:border-line"}`
            }
          >
            {v.label}
          </NavLink>
        ))}
      </nav>
      <View days={Number(days)} />
    </>
  );
}
