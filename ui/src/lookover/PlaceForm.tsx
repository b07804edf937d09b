import type { Schemas } from "../api/client";
import { useSettings } from "../api/shop";
import { Choice, Field, inputLook, Select, Tick } from "../kit/kit";
import { Count } from "../kit/number";

type Look = Schemas["LookOver"];

/** Where, how long and for which service. */
export function PlaceForm({ look, change }: { look: Look; change: (l: Look) => void }) {
  const services = (useSettings().data?.settings.services ?? []).map((s) => ({ value: s.id ?? "", label: s.name }));
  const place = (p: Partial<Schemas["Place"]>) => change({ ...look, place: { ...look.place, ...p } });
  return (
    <div className="grid gap-3">
      <Choice
        label="Cover"
        value={look.place.cover}
        onChange={(cover) => place({ cover })}
        options={[
          { value: "open sky", label: "Open sky" },
          { value: "shade", label: "Shade" },
          { value: "indoors", label: "Indoors" },
        ]}
      />
      <Choice
        label="Water supply"
        value={look.place.supply}
        onChange={(supply) => place({ supply })}
        options={[
          { value: "pressure washer", label: "Pressure washer" },
          { value: "hose", label: "Hose" },
          { value: "carried water", label: "Carried" },
        ]}
      />
      <Tick
        label={
          <>
            {" "}
            Wash water may run off here <span className="block text-sm text-faded">Local rules on drains come first.</span>{" "}
          </>
        }
        on={look.place.runoff}
        onChange={(on) => place({ runoff: on })}
      />
      <Tick label="A blower may be used here" on={look.place.blower} onChange={(on) => place({ blower: on })} />
      <Field label="Service">
        <Select value={look.service} onChange={(service) => change({ ...look, service })} options={services} />
      </Field>
      <Tick label="Tyre shine" on={look.tyreShine} onChange={(on) => change({ ...look, tyreShine: on })} />
      <Field label="Pairs of hands">
        <Count whole min={1} max={20} value={look.crew ?? 1} onChange={(crew) => change({ ...look, crew })} />
      </Field>
      <Field label="Minutes there are" hint="0 for no limit">
        <Count whole max={600} value={look.budget} onChange={(budget) => change({ ...look, budget })} />
      </Field>
      <Field label="Notes: damage, anything before starting">
        <textarea
          className={`${inputLook} py-2`}
          rows={3}
          maxLength={2000}
          value={look.notes}
          onChange={(e) => change({ ...look, notes: e.target.value })}
        />
      </Field>
    </div>
  );
}
