import type { Chosen } from "../../../app/practice";
import type { Column } from "./RowTable";
import { degrees, ends, signedStops, stop, whole } from "./words";

const UNKNOWN = <abbr title="not known">?</abbr>;

/** The columns of a table of rigs, by what somebody means by equivalent. */
export function columnsOf(practice: Chosen, reference: string): readonly Column[] {
  const depth = practice.equivalence === "framing_and_depth";
  return [
    { head: "actual mm", cell: ({ row }) => ends(row, (one) => whole(one.focal_length_mm)) },
    { head: "effective f/", cell: ({ row }) => ends(row, (one) => stop(one.f_number)) },
    {
      head: `as on ${reference}, mm`,
      cell: ({ row }) =>
        row.settings[0]?.angles_deg ? (
          <strong>
            {ends(row, (one) => whole(one.equivalent_mm))}
            {row.squeeze !== 1 && (
              <small>{` (${ends(row, (one) => whole(one.equivalent_horizontal_mm))} across)`}</small>
            )}
          </strong>
        ) : (
          "fisheye"
        ),
    },
    ...(depth
      ? [
          {
            head: "depth as f/",
            cell: ({ row }) => ends(row, (one) => stop(one.equivalent_f_number)),
          } satisfies Column,
        ]
      : []),
    {
      head: "across × up",
      cell: ({ row }) => {
        const angles = row.settings[0]?.angles_deg;
        return angles ? `${degrees(angles.horizontal)} × ${degrees(angles.vertical)}` : "";
      },
    },
    { head: "light, stops", cell: ({ row }) => signedStops(row.light_change_stops) },
    {
      head: "stabiliser, mm",
      cell: ({ row }) =>
        row.entry === "none"
          ? "none"
          : row.entry === "told"
            ? "sent by lens"
            : ends(row, (one) => (one.entry_mm === null ? "" : String(one.entry_mm))),
    },
    { head: "MP", cell: ({ row }) => row.megapixels?.toFixed(1) ?? (row.film ? "film" : UNKNOWN) },
    {
      head: "g",
      cell: ({ row }) => (row.weight.unknown.length > 0 ? UNKNOWN : row.weight.known_g.toFixed(0)),
    },
  ];
}
