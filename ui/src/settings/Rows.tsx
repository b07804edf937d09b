import type { ReactNode } from "react";
import { Button, Panel, Table } from "../kit/kit";

/** A list of the shop's that is added to and taken from: a table with a row for each, a button for one more, and a word on
 *  it. The cells of a row are given without the last one, which takes the row away. */
export function Rows({
  title,
  head,
  keys,
  cells,
  least = 0,
  remove,
  add,
  onAdd,
  note,
}: {
  title: string;
  head: string[];
  keys: string[];
  cells: (i: number) => ReactNode;
  /** How many there must be. */
  least?: number;
  remove: (i: number) => void;
  add: string;
  /** Absent while nothing can be added. */
  onAdd: (() => void) | undefined;
  note: string;
}) {
  return (
    <Panel title={title}>
      <Table stacks caption={title} head={[...head, ""]}>
        {keys.map((key, i) => (
          <tr key={key} className="sm:align-top">
            {cells(i)}
            <td>
              <Button disabled={keys.length <= least} onClick={() => remove(i)}>
                Remove
              </Button>
            </td>
          </tr>
        ))}
      </Table>
      <Button className="mt-2" disabled={!onAdd} onClick={onAdd}>
        {add}
      </Button>
      <p className="mt-1 text-sm text-faded">{note}</p>
    </Panel>
  );
}
