import type { Entry } from "../api/logQueries";
import { rigPath } from "./rig";

/** A positive number as it is typed, with a point or a comma. */
export const numberOf = (text: string) => {
  const value = Number(text.trim().replace(",", "."));
  return text.trim() !== "" && Number.isFinite(value) && value > 0 ? value : null;
};

/** What was noted when the frame was taken, where a trial begins from one; a number or a name that is not known is not there. */
export interface Taken {
  stop: number | null;
  mark: number | null;
  distance: string;
  use: string;
  travel: number | null;
  /** The picture, where there is one. */
  file: string;
}

type Noted = Pick<Entry, "lens" | "body" | "via" | "aperture" | "focal_length_mm" | "distance_m" | "use" | "travel">;

/** What of an entry goes with a trial that begins from it, and its picture; as the room's address has it. */
export function takenPath(entry: Noted, picture?: { number: number; file: string }): string {
  const noted = {
    stop: entry.aperture,
    mark: entry.focal_length_mm,
    distance: entry.distance_m,
    use: entry.use,
    travel: entry.travel,
    picture: picture?.number,
    file: picture?.file,
  };
  const known = new URLSearchParams();
  for (const [name, value] of Object.entries(noted))
    if (value !== null && value !== undefined) known.set(name, `${value}`);
  const more = known.toString();
  return rigPath({ ...entry, adapters: entry.via }, "/log/trials") + (more && `&${more}`);
}

/** What an address says of the frame. */
export const takenOf = (address: URLSearchParams): Taken => ({
  stop: numberOf(address.get("stop") ?? ""),
  mark: numberOf(address.get("mark") ?? ""),
  distance: address.get("distance") ?? "",
  use: address.get("use") ?? "",
  travel: numberOf(address.get("travel") ?? ""),
  file: address.get("file") ?? "",
});
