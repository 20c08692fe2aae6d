import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import { useId, useState } from "react";

import { addressOf, type MatchReport, type NearestProfiles, type SetUp } from "../../api/client";
import { codeReadQuery, nearestProfilesQuery } from "../../api/queries";
import { viaOf } from "../../parts/rig";
import { Plain } from "../../parts/Plain";

interface Props {
  report: SetUp;
  match: MatchReport;
}

/** Where the body reads fields on the flange: which profile to mark, its template, and what stands there. */
export function FlangeCode({ report, match }: Props) {
  const mount = match.pieces[report.body]?.mount ?? "";
  const nearest = useQuery({
    ...nearestProfilesQuery(report.lens, mount, viaOf(report.adapters)),
    enabled: mount !== "",
  });
  if (!nearest.data?.coded) return null;
  return <Coded key={report.lens} mount={mount} report={report} nearest={nearest.data} />;
}

interface CodedProps {
  mount: string;
  report: SetUp;
  nearest: NearestProfiles;
}

function Coded({ mount, report, nearest }: CodedProps) {
  const [chosen, setChosen] = useState<string | null>(null);
  const marked = nearest.nearest.find(({ code }) => code === chosen) ?? nearest.nearest[0];
  const lens = report.names[report.lens] ?? report.lens;
  return (
    <section data-section="code">
      <h2>Light and dark fields on the flange</h2>
      <p>
        {nearest.believed
          ? `Marked as it is, the body takes ${lens} for ${nearest.believed}.`
          : `Without a code the body knows nothing of ${lens}.`}
        {nearest.brings_up && nearest.brings_up.length > 0
          ? ` It brings up the frame lines ${nearest.brings_up.join(", ")}: only their profiles are offered.`
          : ""}
      </p>
      {nearest.nearest.length > 0 && (
        <div className="toggles" role="group" aria-label="Profile to mark">
          {nearest.nearest.map(({ code, name }) => (
            <Plain
              key={code}
              className="filter-toggle"
              aria-pressed={code === marked?.code}
              onClick={() => setChosen(code)}
            >
              {`${code} ${name}`}
            </Plain>
          ))}
        </div>
      )}
      {marked && (
        <>
          <ul className="code-wrong bulleted" data-wrong={marked.code}>
            {marked.wrong.length === 0 && <li>Nothing would be corrected wrongly.</li>}
            {marked.wrong.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ul>
          <Template mount={mount} digits={marked.code} />
          <p>
            {INK}
            {` At power-on look what the body believes: `}
            {`${nearest.believed ?? "nothing"} before, ${marked.name} now.`}
          </p>
        </>
      )}
      {nearest.notes.map((note) => (
        <p key={note} className="code-wrong bulleted">
          {note}
        </p>
      ))}
      <Read mount={mount} fields={nearest.fields} dark={nearest.dark_is} />
    </section>
  );
}

const INK =
  "Mark the dark fields with matt ink, in the groove where there is one, and leave the others bright; " +
  "ink wears off and is renewed, and spirit on a cloth takes it away.";

/** The template as large as the flange: what is printed is laid on it. */
function Template({ mount, digits }: { mount: string; digits: string }) {
  const url = addressOf("/api/v1/code/template", { mount, digits });
  return (
    <figure className="code-template">
      <img src={url} alt={`Template of ${digits} at true size`} />
      <figcaption>
        <Button href={url} download={`${mount}-${digits}.svg`}>
          Template as SVG
        </Button>
      </figcaption>
    </figure>
  );
}

/** What stands on a flange, read back. */
function Read({ mount, fields, dark }: { mount: string; fields: number; dark: number }) {
  const id = useId();
  const [typed, setTyped] = useState("");
  const whole = new RegExp(`^[01]{${fields}}$`).test(typed);
  const read = useQuery({ ...codeReadQuery(mount, typed), enabled: whole });
  return (
    <div className="frame-asked code-read">
      <label
        htmlFor={id}
      >{`Which lens is it? ${fields} fields from where they start, ${dark} dark, ${1 - dark} light`}</label>
      <Input
        id={id}
        value={typed}
        maxLength={fields}
        inputMode="numeric"
        onChange={(event) => setTyped(event.target.value.replace(/[^01]/g, ""))}
      />
      {whole && read.data && (
        <p role="status" data-read={typed}>
          {read.data.profile
            ? `The body takes it for ${read.data.profile}.`
            : `No body knows this code${
                read.data.misread.length > 0 ? `; one field from it are ${read.data.misread.join(", ")}` : ""
              }.`}
          {read.data.lenses.some(({ marked }) => marked)
            ? ` Of yours, ${read.data.lenses
                .filter(({ marked }) => marked)
                .map(({ name }) => name)
                .join(", ")} is marked so.`
            : ""}
        </p>
      )}
    </div>
  );
}
