import "./Controls.css";

import InputNumber from "antd/es/input-number";
import Select from "antd/es/select";
import type { CSSProperties, ReactNode } from "react";

import type { FrameReport } from "../../api/client";
import { fNumber } from "../../parts/format";
import { headed, word } from "../../parts/words";
import { SCENES, type Settings } from "./settings";
import { Labelled } from "../../parts/Labelled";
import { Plain } from "../../parts/Plain";

interface Props {
  report: FrameReport;
  settings: Settings;
  /** What is dragged takes one step of the browser's history, not a hundred. */
  onChange: (change: Settings, dragged?: boolean) => void;
}

const text = (value: number | null) => (value === null ? "" : String(value));

/** How the rig is set, and what stands before it. */
export function Controls({ report, settings, onChange }: Props) {
  const [short, long] = report.marked_mm;
  return (
    <div className="frame-controls">
      <Asked label="Scene">
        {(id) => (
          <Select
            id={id}
            value={report.scene}
            options={SCENES.map(([value, label]) => ({ value, label }))}
            onChange={(scene) => onChange({ scene, at: "", subject: "" })}
          />
        )}
      </Asked>
      <Asked label="Focused at, m">
        {(id) => (
          <span className="frame-pair">
            <InputNumber
              id={id}
              min={0.01}
              max={100000}
              controls={false}
              value={report.at_m}
              placeholder="infinity"
              onChange={(value) => {
                if (value !== null) onChange({ at: text(value) });
              }}
            />
            <Plain
              className="filter-toggle"
              aria-pressed={report.at_m === null}
              onClick={() => onChange({ at: report.at_m === null ? "" : "inf" })}
            >
              infinity
            </Plain>
          </span>
        )}
      </Asked>
      <Asked label="Aperture on the ring">
        {(id) => (
          <Select
            id={id}
            value={report.f_number}
            options={report.f_numbers.map((value) => ({ value, label: fNumber(value) }))}
            onChange={(value) => onChange({ n: String(value) })}
          />
        )}
      </Asked>
      {short !== long && (
        <Asked label="Focal length on the ring, mm">
          {(id) => (
            <InputNumber
              id={id}
              min={short}
              max={long}
              value={Number(settings.mm ?? short)}
              onChange={(value) => onChange({ mm: text(value) })}
            />
          )}
        </Asked>
      )}
      <Asked label="Sensor in use">
        {(id) => (
          <Select
            id={id}
            value={report.mode}
            options={report.modes.map(({ name }) => ({ value: name, label: name }))}
            onChange={(mode) => onChange({ mode })}
          />
        )}
      </Asked>
      <Toggles report={report} settings={settings} onChange={onChange} />
      {report.scene === "facade" && <Front report={report} settings={settings} onChange={onChange} />}
      <Tilted report={report} settings={settings} onChange={onChange} />
    </div>
  );
}

/** What tilts is dragged as far as it goes; where nothing does, a tilt can still be tried by its number. */
function Tilted({ report, settings, onChange }: Props) {
  const most = Math.max(0, ...report.moving.map(({ tilt_deg: degrees }) => degrees));
  const tilt = Number(settings.tilt ?? 0);
  const put = (value: number | null) => onChange({ tilt: value ? text(value) : "" }, true);
  return (
    <Asked label={most > 0 ? `${headed("tilt")}: ${tilt}°` : `${headed("tilt")}, degrees`}>
      {(id) =>
        most > 0 ? (
          <Range
            id={id}
            min={-most}
            max={most}
            step={0.5}
            value={tilt}
            rest={0}
            label={`${headed("tilt")} in degrees, down is positive`}
            onChange={put}
          />
        ) : (
          <InputNumber
            id={id}
            min={-60}
            max={60}
            value={tilt}
            title={`${word("tilt")}: down is positive`}
            onChange={put}
          />
        )
      }
    </Asked>
  );
}

function Toggles({ report, settings, onChange }: Props) {
  return (
    <div className="toggles">
      <Toggle on={report.upright} name="camera upright" onTurn={(on) => onChange({ up: on ? "1" : "" })} />
      {report.squeeze !== 1 && (
        <Toggle on={report.desqueeze} name="desqueezed" onTurn={(on) => onChange({ desq: on ? "1" : "" })} />
      )}
      {report.stabiliser_travel_mm !== null && (
        <Toggle
          on={settings.stray === "1"}
          name="stabiliser at the corner of its travel"
          onTurn={(on) => onChange({ stray: on ? "1" : "" })}
        />
      )}
    </div>
  );
}

/** A tall front: how high, how far, from how low, and how far its verticals are corrected. */
function Front({ report, settings, onChange }: Props) {
  const { subject } = report;
  const corrected = Number(settings.p ?? 1);
  const put = (part: "height_m" | "distance_m" | "lens_m") => (value: number | null) => {
    if (value === null) return;
    const next = { ...subject, [part]: value };
    onChange({ subject: [next.height_m, next.distance_m, next.lens_m].join(",") });
  };
  return (
    <>
      <Asked label="Height of the front, m">
        {(id) => <InputNumber id={id} min={0.1} max={1000} value={subject.height_m} onChange={put("height_m")} />}
      </Asked>
      <Asked label="Its distance, m">
        {(id) => <InputNumber id={id} min={1} max={10000} value={subject.distance_m} onChange={put("distance_m")} />}
      </Asked>
      <Asked label="Height of the lens, m">
        {(id) => (
          <InputNumber
            id={id}
            min={0}
            max={subject.height_m - 0.05}
            step={0.1}
            value={subject.lens_m}
            onChange={put("lens_m")}
          />
        )}
      </Asked>
      <Asked label={`Verticals: tilted up … corrected … too far: ${Math.round(100 * corrected)} %`}>
        {(id) => (
          <Range
            id={id}
            min={0}
            max={1.4}
            step={0.1}
            value={corrected}
            rest={1}
            label="How far the verticals are corrected"
            onChange={(value) => onChange({ p: text(value) }, true)}
          />
        )}
      </Asked>
    </>
  );
}

interface Ranged extends Record<"min" | "max" | "step" | "value", number> {
  id: string;
  /** Where nothing is moved. */
  rest: number;
  label: string;
  onChange: (value: number) => void;
}

function Range({ rest, label, onChange, ...range }: Ranged) {
  const style: CSSProperties & Record<"--rest", number> = { "--rest": (rest - range.min) / (range.max - range.min) };
  return (
    <input
      type="range"
      style={style}
      aria-label={label}
      onChange={(event) => onChange(event.target.valueAsNumber)}
      {...range}
    />
  );
}

function Asked({ label, children }: { label: string; children: (id: string) => ReactNode }) {
  return (
    <Labelled label={label} className="frame-asked">
      {children}
    </Labelled>
  );
}

function Toggle({ on, name, onTurn }: { on: boolean; name: string; onTurn: (on: boolean) => void }) {
  return (
    <Plain className="filter-toggle" aria-pressed={on} onClick={() => onTurn(!on)}>
      {name}
    </Plain>
  );
}
