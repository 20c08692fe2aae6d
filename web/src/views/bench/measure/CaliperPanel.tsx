import { useMutation, useQuery } from "@tanstack/react-query";
import Input from "antd/es/input/Input";
import Button from "antd/es/button";
import { type KeyboardEvent, useState } from "react";

import { type BenchQuantity, portsQuery, type SeriesWritten } from "../../../api/benchQueries";
import { client, unwrap } from "../../../api/client";
import { mm } from "../../../parts/format";
import { Refused } from "../../../parts/Refused";
import { numberIn } from "../useKept";
import type { useCaliper } from "./useCaliper";
import { Plain } from "../../../parts/Plain";

type Source = SeriesWritten["source"];

interface Props {
  quantity: BenchQuantity;
  written: SeriesWritten;
  source: Source;
  place: number | null;
  caliper: ReturnType<typeof useCaliper>;
  onSource: (source: Source) => void;
  onPlace: (deg: number) => void;
  onReading: (mm: number) => void;
  onChange: (written: SeriesWritten) => void;
  /** Places of readings that stand apart, of which nobody said yet whether they are right. */
  slips: readonly number[];
  onKeep: () => void;
  keeping: boolean;
}

const SOURCES = [
  ["typed", "typed, or a caliper that types"],
  ["caliper", "a caliper at a port"],
  ["simulated", "the simulated caliper"],
] as const;
const PLACES = [
  [0, "top"],
  [90, "right"],
  [180, "bottom"],
  [270, "left"],
] as const;

/** Where readings come from, and those of this time. */
export function CaliperPanel(props: Props) {
  const { written, source, place, slips, onSource, onPlace, onChange, onKeep, keeping } = props;
  const confirm = (index: number) =>
    onChange({
      ...written,
      readings: written.readings.map((one, other) => (other === index ? { ...one, confirmed: true } : one)),
    });
  return (
    <section data-section="readings">
      <h2>Readings</h2>
      <div className="toggles" role="group" aria-label="Where readings come from">
        {SOURCES.map(([one, label]) => (
          <Plain key={one} className="filter-toggle" aria-pressed={source === one} onClick={() => onSource(one)}>
            {label}
          </Plain>
        ))}
      </div>
      {place !== null && (
        <div className="toggles" role="group" aria-label="Place around the mount face">
          <span>{"read at the "}</span>
          {PLACES.map(([deg, label]) => (
            <Plain key={deg} className="filter-toggle" aria-pressed={place === deg} onClick={() => onPlace(deg)}>
              {label}
            </Plain>
          ))}
        </div>
      )}
      {source === "typed" ? (
        <Typed {...props} />
      ) : source === "caliper" ? (
        <AtPort {...props} />
      ) : (
        <Simulated {...props} />
      )}
      <ol className="bench-readings" aria-label="Readings in hand">
        {written.readings.map((one, index) => (
          <li key={index} data-reading={one.mm} data-slip={slips.includes(index)}>
            <span>{`${mm(one.mm)} mm`}</span>
            <Plain
              className="unfold"
              aria-label={`Leave out ${mm(one.mm)}`}
              onClick={() => onChange({ ...written, readings: written.readings.filter((_, other) => other !== index) })}
            >
              leave out
            </Plain>
            {slips.includes(index) && (
              <Plain className="unfold" onClick={() => confirm(index)} data-action="confirm">
                it is right
              </Plain>
            )}
          </li>
        ))}
        {written.readings.length === 0 && (
          <li className="route-gives">Three or four, around the mount face. None in hand yet.</li>
        )}
      </ol>
      <Known written={written} onChange={onChange} />
      <Button disabled={written.readings.length === 0} loading={keeping} onClick={onKeep}>
        Keep these readings
      </Button>
    </section>
  );
}

function Typed({ onReading }: Props) {
  const [text, setText] = useState("");
  const wrong = text !== "" && numberIn(text) === null;
  const enter = (event: KeyboardEvent) => {
    if (event.key !== "Enter") return;
    const value = numberIn(text.replace(/mm$/i, ""));
    if (value !== null && Math.abs(value) <= 1000) {
      onReading(value);
      setText("");
    }
  };
  return (
    <label className="bench-field">
      <span>A reading in mm, then Enter</span>
      <Input
        inputMode="decimal"
        value={text}
        aria-invalid={wrong}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={enter}
        data-field="reading"
      />
      {wrong && <span className="problem-line">a number, as 25.83</span>}
    </label>
  );
}

function AtPort({ onReading }: Props) {
  const ports = useQuery(portsQuery);
  const [port, setPort] = useState("");
  const at = port || (ports.data?.[0]?.port ?? "");
  const read = useMutation({
    mutationFn: async () => unwrap(await client.POST("/api/v1/bench/port", { body: { port: at } })),
    onSuccess: (found) => onReading(found.reading_mm),
  });
  return (
    <>
      <label className="bench-field">
        <span>Its port</span>
        <Input
          list="bench-ports"
          value={port}
          placeholder={at || "/dev/ttyUSB0"}
          onChange={(event) => setPort(event.target.value)}
          data-field="port"
        />
        <datalist id="bench-ports">
          {(ports.data ?? []).map((one) => (
            <option key={one.port} value={one.port}>
              {one.name}
            </option>
          ))}
        </datalist>
      </label>
      <Button loading={read.isPending} disabled={at === ""} onClick={() => read.mutate()} data-action="read">
        Take a reading
      </Button>
      {read.error && <Refused error={read.error} />}
    </>
  );
}

function Simulated({ caliper, onReading, written, onChange }: Props) {
  const { state } = caliper;
  return (
    <>
      <p className="bench-invented">
        It measures an invented copy of this piece, and says nothing of yours. Drag its display, close the jaws until
        they touch, read.
      </p>
      <div className="bench-actions">
        <Button disabled={state === null || state.touching} onClick={() => caliper.move(0)}>
          Close the jaws
        </Button>
        <Button
          type={state?.touching ? "primary" : "default"}
          disabled={!state?.touching}
          data-action="read"
          onClick={() => {
            void caliper.read().then((value) => {
              if (value !== null) onReading(value);
            });
          }}
        >
          Take the reading
        </Button>
        <Button
          type="text"
          disabled={state === null}
          onClick={() => {
            void caliper.zero().then((value) => {
              if (value !== null) onChange({ ...written, zero_mm: value });
            });
          }}
        >
          See what it reads closed
        </Button>
      </div>
      {caliper.error && <Refused error={caliper.error} />}
    </>
  );
}

const KNOWN = [
  ["zero_mm", "reads closed"],
  ["resolution_mm", "resolution"],
  ["error_mm", "its maker allows ±"],
] as const;

/** What is known of the caliper: its zero is taken off, the rest is part of the doubt. */
function Known({ written, onChange }: { written: SeriesWritten; onChange: (next: SeriesWritten) => void }) {
  return (
    <fieldset className="bench-known">
      <legend>The caliper, in mm</legend>
      {KNOWN.map(([key, label]) => (
        <label key={key}>
          <span>{label}</span>
          <Input
            inputMode="decimal"
            key={`${key} ${written[key]}`}
            defaultValue={String(written[key])}
            data-field={key}
            onBlur={(event) => {
              const value = numberIn(event.target.value);
              const fits = value !== null && (key === "zero_mm" ? Math.abs(value) <= 10 : value >= 0 && value <= 10);
              if (fits) onChange({ ...written, [key]: value });
              else event.target.value = String(written[key]);
            }}
          />
        </label>
      ))}
    </fieldset>
  );
}
