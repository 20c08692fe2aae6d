import "./FromPicture.css";

import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import { useId } from "react";

import { readItem } from "../../../api/items";
import type { MeasureAsked } from "../../../api/measuredQueries";
import { useChange } from "../../../app/useChange";
import { PictureOverlay } from "../../../drawing/measured/PictureOverlay";
import { Plain } from "../../../parts/Plain";
import { Progress } from "../../../parts/Progress";
import { Refused } from "../../../parts/Refused";
import type { RigProps } from "../useRig";
import { ChartsToPrint } from "./ChartsToPrint";
import { KeptMeasures } from "./KeptMeasures";
import { KIND_OF, KINDS } from "./kinds";
import { PictureSlot } from "./PictureSlot";
import { SeriesSlots } from "./SeriesSlots";
import { Told } from "./Told";
import { type Fields, useMeasured } from "./useMeasured";
import type { useMeasuring } from "./useMeasuring";

/** Measured from a picture: sharpness, circle and fall-off, the ring's error, a focus ladder, series of frames. */
export default function FromPicture({ rig }: RigProps) {
  const [words, change] = useChange();
  const kind = KIND_OF(words.get("measure"));
  return (
    <div className="measured-page">
      <nav className="toggles" aria-label="What to measure">
        {KINDS.map(({ what, name }) => (
          <Plain
            key={what}
            className="filter-toggle"
            aria-pressed={what === kind.what}
            onClick={() => change({ measure: what })}
            data-measure={what}
          >
            {name}
          </Plain>
        ))}
      </nav>
      {kind.what === "chart" ? <ChartsToPrint rig={rig} /> : <Measured key={kind.what} rig={rig} />}
    </div>
  );
}

function Measured({ rig }: RigProps) {
  const [words] = useChange();
  const kind = KIND_OF(words.get("measure"));
  const what = kind.what === "chart" ? "edges" : kind.what;
  const desk = useMeasured(rig, what);
  const { measuring, answer, shown, fields } = desk;
  const atOnce = what === "edges" || what === "circle";
  const drags = desk.size !== null && (what === "edges" || what === "ring");
  return (
    <>
      <div
        className="sheet bench-sheet measured-sheet"
        data-measured={answer ? "settled" : measuring.working ? "working" : "empty"}
      >
        <div className="screen-head" aria-live="polite">
          <h1>{answer?.says ?? kind.head}</h1>
          <p>{kind.how}</p>
        </div>
        <div className="measured-controls">
          <Slots what={what} desk={desk} />
          <div className="bench-choose">
            {kind.fields.map(([name, label]) => (
              <Field
                key={name}
                name={name}
                label={label}
                value={fields[name]}
                onValue={(value) => desk.setFields({ ...fields, [name]: value })}
              />
            ))}
            {rig.body !== null && (
              <Modes body={rig.body} mode={fields.mode} onMode={(mode) => desk.setFields({ ...fields, mode })} />
            )}
            {shown && !(atOnce && answer?.picture.pitch_why === "" && desk.regions.length === 0) && (
              <Button
                type="primary"
                disabled={desk.lacks !== "" || measuring.working}
                onClick={desk.measure}
                data-action="measure"
              >
                Measure
              </Button>
            )}
            {desk.regions.length > 0 && <Button onClick={desk.clearRegions}>All edges again</Button>}
            <Working measuring={measuring} />
            {shown && !measuring.working && desk.lacks !== "" && <span className="problem-line">{desk.lacks}</span>}
          </div>
        </div>
        {measuring.error && <Refused error={measuring.error} />}
        {measuring.why !== "" && (
          <p className="problem-line" role="alert">
            {measuring.why}
          </p>
        )}
        <div className="measured-body">
          {shown && (
            <PictureOverlay
              picture={shown}
              answer={desk.found}
              regions={desk.regions}
              ends={desk.ends}
              size={desk.size}
              {...(drags ? { onRegion: desk.drag } : {})}
              {...(desk.size !== null && what === "ladder" ? { onSpot: desk.click } : {})}
            />
          )}
          {answer && <Told answer={answer} rig={rig} fields={fields} work={measuring.id} />}
        </div>
      </div>
      {rig.lens !== null && rig.body !== null && rig.via !== null && (
        <KeptMeasures lens={rig.lens} body={rig.body} via={rig.via} />
      )}
    </>
  );
}

/** Which part of the sensor was used, where the body has several. */
function Modes({ body, mode, onMode }: { body: string; mode: string; onMode: (mode: string) => void }) {
  const page = useQuery({ queryKey: ["body modes", body], queryFn: () => readItem("bodies", body) });
  const modes = (page.data?.item as { modes?: { name: string }[] } | undefined)?.modes ?? [];
  if (modes.length === 0) return null;
  return (
    <div className="toggles" role="group" aria-label="Part of the sensor in use">
      {["full", ...modes.map(({ name }) => name)].map((name) => (
        <Plain key={name} className="filter-toggle" aria-pressed={name === mode} onClick={() => onMode(name)}>
          {name}
        </Plain>
      ))}
    </div>
  );
}

/** How far it has come, and a way to stop it. */
function Working({ measuring }: { measuring: ReturnType<typeof useMeasuring> }) {
  if (!measuring.working) return null;
  return (
    <>
      <Progress done={measuring.done} of={1} label="Measuring" />
      <Button onClick={() => measuring.stop()}>Stop</Button>
    </>
  );
}

const SAMPLE: Partial<Record<MeasureAsked["what"], "chart" | "lit">> = { edges: "chart", circle: "lit" };

/** The pictures that are needed. */
function Slots({ what, desk }: { what: MeasureAsked["what"]; desk: ReturnType<typeof useMeasured> }) {
  const sample = SAMPLE[what];
  if (what === "series") {
    return (
      <div className="measured-slots">
        <SeriesSlots lines={desk.lines} onLines={desk.setLines} />
      </div>
    );
  }
  return (
    <div className="measured-slots">
      <PictureSlot
        label={what === "ring" ? "The soft frame" : "The picture"}
        picture={desk.picture}
        {...(sample ? { sample } : {})}
        onPicture={desk.take}
      />
      {what === "ring" && (
        <>
          <PictureSlot
            label="The same edge in focus, same stop"
            picture={desk.reference}
            onPicture={desk.setReference}
          />
          <PictureSlot
            label="A second one, the ring moved (says to which side)"
            picture={desk.second}
            optional
            onPicture={desk.setSecond}
          />
        </>
      )}
    </div>
  );
}

interface FieldProps {
  name: keyof Fields;
  label: string;
  value: string;
  onValue: (value: string) => void;
}

function Field({ name, label, value, onValue }: FieldProps) {
  const id = useId();
  return (
    <label className="bench-field" htmlFor={id}>
      <span>{label}</span>
      <Input
        id={id}
        inputMode="decimal"
        value={value}
        onChange={(event) => onValue(event.target.value)}
        data-field={name}
      />
    </label>
  );
}
