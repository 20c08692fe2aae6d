import Select from "antd/es/select";
import { useRef } from "react";

import type { Trial } from "../../../api/trialQueries";
import { Plain } from "../../../parts/Plain";
import { EMPTY, type Rung, VERDICTS } from "./ladder";

interface Props {
  stops: readonly number[];
  /** The stop of the frame that is looked at. */
  taken: number | null;
  rungs: ReadonlyMap<number, Rung>;
  onChange: (stop: number, changed: Partial<Rung>) => void;
}

const CAUSES: readonly { value: NonNullable<Trial["cause"]>; label: string }[] = [
  { value: "lens", label: "the lens" },
  { value: "focus", label: "missed focus" },
  { value: "magnifier", label: "magnifier in the way" },
  { value: "subject", label: "subject moved" },
  { value: "shake", label: "shake" },
  { value: "play", label: "play in the mount" },
];
const PLACES = ["centre", "corner"] as const;

/** Rows the stops, columns the centre and the worst corner; 1 to 4 in a cell, arrows between cells. */
export function LadderTable({ stops, taken, rungs, onChange }: Props) {
  const table = useRef<HTMLTableElement>(null);
  const go = (row: number, column: number) =>
    table.current?.querySelector<HTMLElement>(`[data-cell="${row} ${column}"]`)?.focus();
  const pressed = (event: React.KeyboardEvent, row: number, column: number) => {
    const [stop, place] = [stops[row], PLACES[column]];
    const verdict = VERDICTS[Number(event.key) - 1];
    if (stop === undefined || place === undefined) return;
    const moves: Record<string, readonly [number, number]> = {
      ArrowUp: [row - 1, column],
      ArrowDown: [row + 1, column],
      ArrowLeft: [row, column - 1],
      ArrowRight: [row, column + 1],
    };
    const to = moves[event.key];
    if (verdict) {
      onChange(stop, { [place]: verdict });
      if (column === 0) go(row, 1);
      else go(row + 1, 0);
    } else if (event.key === "Backspace" || event.key === "0") onChange(stop, { [place]: null });
    else if (to) go(...to);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <table className="ladder" ref={table}>
      <thead>
        <tr>
          {["Stop", "Centre", "Worst corner", "Ghost", "Flare", "Failed by"].map((name) => (
            <th key={name} scope="col">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {stops.map((stop, row) => {
          const rung = rungs.get(stop) ?? EMPTY;
          return (
            <tr key={stop} data-taken={stop === taken || undefined}>
              <th scope="row">
                {`f/${stop}`}
                {stop === taken && <span className="ladder-taken">this frame</span>}
              </th>
              {PLACES.map((place, column) => (
                <td key={place}>
                  <Plain
                    className="ladder-cell"
                    data-cell={`${row} ${column}`}
                    data-verdict={rung[place]}
                    aria-label={`f/${stop}, ${place}: ${rung[place] ?? "not looked at"}`}
                    onKeyDown={(event) => pressed(event, row, column)}
                    onClick={() => onChange(stop, { [place]: nextOf(rung[place]) })}
                  >
                    {rung[place] ?? "–"}
                  </Plain>
                </td>
              ))}
              {(["ghost", "flare"] as const).map((fault) => (
                <td key={fault}>
                  <label className="ladder-check">
                    <input
                      type="checkbox"
                      checked={rung[fault]}
                      onChange={(event) => onChange(stop, { [fault]: event.target.checked })}
                    />
                    <span className="unseen">{`f/${stop}: ${fault}`}</span>
                  </label>
                </td>
              ))}
              <td>
                <Select
                  aria-label={`f/${stop}: why it failed`}
                  allowClear
                  placeholder="–"
                  value={rung.cause}
                  options={[...CAUSES]}
                  onChange={(cause: Trial["cause"] | undefined) => onChange(stop, { cause: cause ?? null })}
                />
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** A tap goes through the verdicts, and back to none. */
const nextOf = (verdict: Rung["centre"]) =>
  verdict === null ? "sharp" : (VERDICTS[VERDICTS.indexOf(verdict) + 1] ?? null);
