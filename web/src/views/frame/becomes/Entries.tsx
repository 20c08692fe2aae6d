import type { RigBecomes } from "../../../api/client";
import { degrees, setTo, whole } from "./words";

const HELD = "The body takes no such focal length: what is entered is the nearest that it takes.";

/** What a zoom is at every marked setting, and what the stabiliser is told there. */
export function Entries({ rig }: { rig: RigBecomes }) {
  const { settings, row } = rig;
  const held = settings.some((one) => one.entry_held !== null);
  if (settings.length < 2) return held ? <p data-held="true">{HELD}</p> : null;
  const entered = row.entry === "entered";
  return (
    <>
      <h2>{entered ? "At each mark of the ring: enter" : "At each mark of the ring"}</h2>
      <table className="data-table" data-table="entries">
        <thead>
          <tr>
            <th scope="col">ring</th>
            {entered && <th scope="col">stabiliser focal length</th>}
            <th scope="col">effective f/</th>
            <th scope="col">frames as</th>
            <th scope="col">across</th>
          </tr>
        </thead>
        <tbody>
          {settings.map((one) => (
            <tr key={one.marked_mm}>
              <th scope="row">{`${one.marked_mm} mm`}</th>
              {entered && <td>{one.entry_mm === null ? "" : `${one.entry_mm} mm`}</td>}
              <td>{`${setTo(one.f_number)}${one.assumed ? " *" : ""}`}</td>
              <td>{`${whole(one.equivalent_mm)} mm`}</td>
              <td>{one.angles_deg ? degrees(one.angles_deg.horizontal) : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {settings.some((one) => one.assumed) && (
        <p data-state="assumed">* Assumed: between its ends it is taken to darken in proportion.</p>
      )}
      {held && <p data-held="true">{HELD}</p>}
      {entered && <p>Enter it anew at each setting, and do not zoom while the stabiliser works.</p>}
    </>
  );
}
