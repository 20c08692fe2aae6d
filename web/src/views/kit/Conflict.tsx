import Button from "antd/es/button";
import Radio from "antd/es/radio";
import { useState } from "react";

import { titleOf } from "../../parts/labels";
import { type Fields, same } from "../../parts/fields";
import { TableHead } from "../../parts/TableHead";

interface Props {
  base: Fields;
  mine: Fields;
  /** As somebody else left it; null if it is gone. */
  theirs: Fields | null;
  onTake: (merged: Fields) => void;
  onDrop: () => void;
}

const said = (value: unknown) =>
  value === undefined || value === null ? "not said" : typeof value === "string" ? value : JSON.stringify(value);

/** Two versions of one item side by side: what only one side changed is taken, the rest is chosen. */
export function Conflict({ base, mine, theirs, onTake, onDrop }: Props) {
  const other = theirs ?? {};
  const keys = [...new Set([...Object.keys(mine), ...Object.keys(other), ...Object.keys(base)])].filter(
    (key) => !same(mine[key], other[key]),
  );
  const [chosen, setChosen] = useState<Record<string, "mine" | "theirs">>(() =>
    Object.fromEntries(keys.map((key) => [key, same(mine[key], base[key]) ? "theirs" : "mine"])),
  );
  if (theirs === null) {
    return (
      <div className="conflict-box" role="alert" data-state="conflict">
        <h3>It was removed meanwhile, in another window or by another program.</h3>
        <p>What you wrote is still here.</p>
        <p className="message-actions">
          <Button type="primary" onClick={() => onTake(mine)}>
            Put it back, as I have it
          </Button>
          <Button onClick={onDrop}>Let it go</Button>
        </p>
      </div>
    );
  }
  return (
    <div className="conflict-box" role="alert" data-state="conflict">
      <h3>Somebody else saved it while you wrote.</h3>
      <p>Nothing is lost: choose for each field, then save.</p>
      <table>
        <TableHead columns={["Field", "Yours", "Saved meanwhile"]} />
        <tbody>
          {keys.map((key) => (
            <tr key={key} data-field={key}>
              <th scope="row">{titleOf(key)}</th>
              {(["mine", "theirs"] as const).map((side) => (
                <td key={side}>
                  <Radio checked={chosen[key] === side} onChange={() => setChosen({ ...chosen, [key]: side })}>
                    {said((side === "mine" ? mine : other)[key])}
                  </Radio>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="message-actions">
        <Button
          type="primary"
          onClick={() => {
            const merged: Fields = { ...other };
            for (const key of keys) merged[key] = (chosen[key] === "mine" ? mine : other)[key];
            onTake(merged);
          }}
        >
          Save what is chosen
        </Button>
        <Button onClick={onDrop}>Keep what was saved, drop mine</Button>
      </p>
    </div>
  );
}
