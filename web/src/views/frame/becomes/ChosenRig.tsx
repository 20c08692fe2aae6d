import "./ChosenRig.css";

import { Link } from "react-router";

import type { BecomingRow, RigBecomes } from "../../../api/client";
import { withPair } from "../../../app/navigation";
import type { Chosen } from "../../../app/practice";
import { usePractices } from "../../../app/Practices";
import { gradeTitle } from "../../../drawing/GradeMark";
import { mm } from "../../../parts/format";
import { Photo } from "../../../parts/Photo";
import { pictureOf, queryOf } from "../settings";
import { Entries } from "./Entries";
import { Guess } from "./Guess";
import { Mistakes } from "./Mistakes";
import { plainView, type Standing, subjectOf } from "./standpoint";
import type { useBecoming } from "./useBecoming";
import { useRig } from "./useRig";
import { chainOf, modeName, setTo, whole } from "./words";
import { viaOf } from "../../../parts/rig";

interface Props {
  becoming: ReturnType<typeof useBecoming>;
  row: BecomingRow;
  names: Record<string, string>;
  /** How the rings are set, where the table says; else as wide as it goes. */
  set?: { mm: number; stop: number | null };
  /** What it is held against; else the same lens on the reference. */
  against?: { mm: number; stop: number | null };
}

/** One row of a table: its picture beside the reference's, what is entered, and what is easily done wrong. */
export function ChosenRig({ becoming, row, names, set, against }: Props) {
  const { address, scene } = becoming;
  const rig = useRig(becoming, row, set?.mm);
  const here = rig.data?.row.key === row.key ? rig.data : undefined;
  const title = `${names[row.lens] ?? row.lens} on ${names[row.body] ?? row.body}`;
  return (
    <section className="chosen-rig" aria-live="polite" data-chosen={row.key} data-ready={here !== undefined}>
      <h2>{title}</h2>
      <p>{`${chainOf(row.adapters, names)}; ${modeName(row)}`}</p>
      <Pictures row={row} rig={here} scene={scene} practice={address.practice} set={set} against={against} />
      <ToTheRig row={row} set={set} scene={scene} />
      {here && (
        <>
          <Mistakes mistakes={here.mistakes} />
          <Guess becoming={becoming} row={row} set={set} />
          <Entries rig={here} />
        </>
      )}
    </section>
  );
}

interface PicturesProps {
  row: BecomingRow;
  rig: RigBecomes | undefined;
  scene: Standing;
  practice: Chosen;
  set: Props["set"];
  against: Props["against"];
}

/** What the rig shows, and under it what it is held against, from the same place. */
function Pictures({ row, rig, scene, practice, set, against }: PicturesProps) {
  const at = rig?.settings.find(({ marked_mm: marked }) => marked === set?.mm) ?? rig?.settings[0];
  const subject = subjectOf(scene);
  const query = queryOf(
    row.lens,
    row.body,
    {
      via: viaOf(row.adapters),
      scene,
      mode: row.mode,
      subject: [subject.height_m, subject.distance_m, subject.lens_m].join(","),
      at: String(subject.distance_m),
      ...(row.squeeze === 1 ? {} : { desq: "1" }),
      ...(set ? { mm: String(set.mm) } : {}),
      ...(set && set.stop !== null ? { n: String(set.stop) } : {}),
    },
    practice,
  );
  const plain = against ?? (at && { mm: at.marked_mm, stop: at.marked_f_number });
  // An iris that stays closed is not as wide as it is engraved.
  const stop = setTo(set?.stop ?? (at ? at.f_number / row.magnification : 0));
  const shows = row.grade !== null && row.grade !== "none" && row.grade !== "danger";
  return (
    <div className="chosen-pictures">
      {shows ? (
        <figure>
          <Photo
            shape={(row.width_mm * row.squeeze) / row.height_mm}
            circleUnknown={row.covered === null}
            one={{ url: pictureOf(query, 300), says: "Illustration: what this rig shows", label: "" }}
            other={null}
          />
          <figcaption>{at ? `${set?.mm ? mm(set.mm, 1) : at.marked_mm} mm on the ring, ${stop}` : ""}</figcaption>
        </figure>
      ) : (
        <p className="chosen-none" data-state="no-picture">
          {row.grade ? `${gradeTitle(row.grade)}: there is no picture.` : "Nothing joins them: there is no picture."}
        </p>
      )}
      {rig && plain && (
        <figure>
          <Photo
            shape={rig.reference.width_mm / rig.reference.height_mm}
            circleUnknown={false}
            one={{
              url: plainView(scene, {
                mm: plain.mm,
                aperture: plain.stop ?? at?.equivalent_f_number ?? 8,
                width: rig.reference.width_mm,
                height: rig.reference.height_mm,
              }),
              says: "Illustration: what it is held against",
              label: "",
            }}
            other={null}
          />
          <figcaption>
            {[`${whole(plain.mm)} mm on ${rig.reference.name}`, ...(plain.stop ? [setTo(plain.stop)] : [])].join(", ")}
          </figcaption>
        </figure>
      )}
    </div>
  );
}

/** On to the picture and the light path of this rig. */
function ToTheRig({ row, set, scene }: { row: BecomingRow; set: Props["set"]; scene: Standing }) {
  const { usual } = usePractices();
  const words = new URLSearchParams(window.location.search);
  words.set("lens", row.lens);
  words.set("body", row.body);
  words.set("via", viaOf(row.adapters));
  const path = withPair("/frame", words.toString(), Object.keys(usual));
  const settings = new URLSearchParams({ scene, mode: row.mode });
  if (set) settings.set("mm", mm(set.mm, 2));
  if (set && set.stop !== null) settings.set("n", String(set.stop));
  return (
    <p className="chosen-links">
      <Link to={`${path}&${settings.toString()}`} data-to="frame">
        Frame of this rig
      </Link>
      <Link to={withPair("/", words.toString(), Object.keys(usual))}>Its light path</Link>
    </p>
  );
}
