import type { Schemas } from "../api/client";
import { usePeople } from "../api/shop";
import { Button, inputLook, Select, Table } from "../kit/kit";

type Equipment = Schemas["Equipment"];
type Shift = Schemas["Shift"];

/** What is shared: the day is laid out so that no more is in use than there is. */
export function Machines({ machines, onChange }: { machines: Equipment[]; onChange: (m: Equipment[]) => void }) {
  const set = (i: number, change: Partial<Equipment>) => onChange(machines.map((m, j) => (j === i ? { ...m, ...change } : m)));
  return (
    <div>
      <p className="font-semibold">Machines that are shared</p>
      <Table stacks caption="Machines" head={["Name", "How many", ""]}>
        {machines.map((m, i) => (
          <tr key={i}>
            <td data-head="Name">
              <input
                aria-label="Name of the machine"
                className={inputLook}
                value={m.name}
                maxLength={40}
                required
                onChange={(e) => set(i, { name: e.target.value })}
              />
            </td>
            <td data-head="How many">
              <input
                aria-label={`How many: ${m.name}`}
                className={`${inputLook} num w-24!`}
                type="number"
                min={1}
                max={20}
                value={m.count}
                onChange={(e) => set(i, { count: Math.min(20, Math.max(1, Number(e.target.value))) })}
              />
            </td>
            <td>
              <Button onClick={() => onChange(machines.filter((_, j) => j !== i))}>Remove</Button>
            </td>
          </tr>
        ))}
      </Table>
      <Button className="mt-2" onClick={() => onChange([...machines, { name: "", count: 1 }])}>
        Add a machine
      </Button>
      <p className="mt-1 text-sm text-faded">
        Named as in the procedures: pressure washer, hose, blower. What is not named here is there once.
      </p>
    </div>
  );
}

const two = (n: number) => String(n).padStart(2, "0");
const time = (minute: number) => `${two(Math.min(23, Math.floor(minute / 60)))}:${two(minute >= 1440 ? 59 : minute % 60)}`;
const minute = (text: string) => {
  const [h = 0, m = 0] = text.split(":").map(Number);
  return h * 60 + m;
};

/** Who works when. */
export function Shifts({ shifts, onChange }: { shifts: Shift[]; onChange: (s: Shift[]) => void }) {
  const people = (usePeople().data ?? []).filter((p) => p.role !== "auditor");
  const set = (i: number, change: Partial<Shift>) => onChange(shifts.map((s, j) => (j === i ? { ...s, ...change } : s)));
  const field = (s: Shift, i: number, name: "from" | "to" | "breakFrom" | "breakTo", label: string) => (
    <input
      aria-label={`${label}, ${people.find((p) => p.id === s.personId)?.name ?? ""}`}
      type="time"
      className={`${inputLook} num`}
      value={s[name] === undefined ? "" : time(s[name])}
      onChange={(e) => set(i, { [name]: e.target.value === "" ? undefined : minute(e.target.value) })}
    />
  );
  return (
    <div>
      <p className="font-semibold">Shifts</p>
      <Table stacks caption="Shifts" head={["Who", "From", "To", "Break from", "To", ""]}>
        {shifts.map((s, i) => (
          <tr key={i}>
            <td data-head="Who" className="min-w-36">
              <Select
                label="Whose shift"
                value={s.personId}
                onChange={(personId) => set(i, { personId })}
                options={people.map((p) => ({ value: p.id, label: p.name }))}
              />
            </td>
            <td data-head="From">{field(s, i, "from", "From")}</td>
            <td data-head="To">{field(s, i, "to", "To")}</td>
            <td data-head="Break from">{field(s, i, "breakFrom", "Break from")}</td>
            <td data-head="Break to">{field(s, i, "breakTo", "Break to")}</td>
            <td>
              <Button onClick={() => onChange(shifts.filter((_, j) => j !== i))}>Remove</Button>
            </td>
          </tr>
        ))}
      </Table>
      <Button
        className="mt-2"
        disabled={people.length === 0}
        onClick={() => onChange([...shifts, { personId: people[0]?.id ?? "", from: 480, to: 1020, breakFrom: 720, breakTo: 750 }])}
      >
        Add a shift
      </Button>
      <p className="mt-1 text-sm text-faded">Who has none is taken to be there all day.</p>
    </div>
  );
}
