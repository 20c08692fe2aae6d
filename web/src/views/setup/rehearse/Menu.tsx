import Button from "antd/es/button";
import InputNumber from "antd/es/input-number";
import Select from "antd/es/select";
import { type ReactNode, useState } from "react";

import type { CameraReport, CameraState } from "../../../api/client";
import type { Do } from "./useCamera";
import { Plain } from "../../../parts/Plain";

interface Props {
  report: CameraReport;
  state: CameraState;
  act: Do;
}

interface RowProps {
  what: string;
  name: string;
  where?: string | undefined;
  children: ReactNode;
}

function Row({ what, name, where, children }: RowProps) {
  return (
    <tr data-setting={what}>
      <th scope="row">
        {name}
        {where && <span className="camera-where">{where}</span>}
      </th>
      <td>{children}</td>
    </tr>
  );
}

/** The settings of the body, under their own places in its menus. */
export function Menu({ report, state, act }: Props) {
  const { controls } = report;
  const place = (what: string) => {
    const all = controls.settings.filter((one) => one.what === what);
    return (all.find(({ use }) => use === state.use) ?? all.find(({ use }) => use === "both"))?.where;
  };
  return (
    <table className="data-table camera-menu">
      <caption className="unseen">Menus of the camera</caption>
      <tbody>
        {controls.release_setting && (
          <Row what="release_without_lens" name="Release without a lens" where={place("bare_release")}>
            <Chosen
              label="Release without a lens"
              value={state.release_without_lens ? "allow" : "refuse"}
              options={["allow", "refuse"]}
              onChange={(value) => act("release_without_lens", value === "allow")}
            />
          </Row>
        )}
        {controls.focal_length && (
          <Row what="focal_length" name="Focal length" where={place("focal_length")}>
            <FocalLength report={report} state={state} act={act} />
          </Row>
        )}
        {controls.stabiliser_modes.length > 1 && (
          <Row what="stabiliser" name="Stabiliser" where={place("stabiliser_mode")}>
            <Chosen
              label="Stabiliser"
              value={state.stabiliser}
              options={controls.stabiliser_modes}
              onChange={(value) => act("stabiliser", value)}
            />
          </Row>
        )}
        {controls.travel_steps.length > 0 && (
          <Row what="travel" name="Travel of the stabiliser">
            <Chosen
              label="Travel of the stabiliser"
              value={String(state.travel)}
              options={[...controls.travel_steps, 0].map(String)}
              says={(value) => (value === "0" ? "off" : `${Number(value) * 100} %`)}
              onChange={(value) => act("travel", Number(value))}
            />
          </Row>
        )}
        {controls.areas.length > 1 && (
          <Row what="area" name="Sensor area" where={place("crop") ?? place("format")}>
            <Chosen
              label="Sensor area"
              value={state.area}
              options={controls.areas.map(({ name }) => name)}
              onChange={(value) => act("area", value)}
            />
          </Row>
        )}
        {controls.desqueeze.length > 0 && (
          <Row what="squeeze" name="Desqueeze" where={place("desqueeze")}>
            <Chosen
              label="Desqueeze"
              value={String(state.squeeze)}
              options={[1, ...controls.desqueeze].map(String)}
              says={(value) => `${value} ×`}
              onChange={(value) => act("squeeze", Number(value))}
            />
          </Row>
        )}
        {controls.film && controls.meters && state.attached && (
          <Row what="meter" name="Widest aperture, for the meter" where={place("meter")}>
            <Button onClick={() => act("meter", state.attached?.widest_f_number)}>
              {`tell it f/${state.attached.widest_f_number} (it has f/${state.meter_f_number})`}
            </Button>
          </Row>
        )}
        {controls.places > 0 && (
          <Row what="store" name={`Stored lenses, ${controls.places} places`}>
            <Stored report={report} state={state} act={act} />
          </Row>
        )}
      </tbody>
    </table>
  );
}

/** Typed in, or one of the presets of a body that has no more. */
function FocalLength({ report, state, act }: Props) {
  const { presets_mm: presets } = report.controls;
  const told = state.focal_length_mm;
  if (presets.length === 0) return <Entered key={told} value={told} act={act} />;
  return (
    <Chosen
      label="Focal length"
      value={String(told)}
      options={presets.map(String)}
      says={(value) => `${value} mm`}
      onChange={(value) => act("focal_length", Number(value))}
    />
  );
}

interface ChosenProps {
  label: string;
  value: string;
  options: readonly string[];
  says?: (value: string) => string;
  onChange: (value: string) => void;
}

function Chosen({ label, value, options, says = (one) => one, onChange }: ChosenProps) {
  return (
    <Select
      aria-label={label}
      value={value}
      options={options.map((one) => ({ value: one, label: says(one) }))}
      onChange={onChange}
      popupMatchSelectWidth={false}
    />
  );
}

function Entered({ value, act }: { value: number; act: Do }) {
  const [typed, setTyped] = useState<number | null>(value);
  return (
    <form
      className="camera-entered"
      onSubmit={(event) => {
        event.preventDefault();
        if (typed !== null) act("focal_length", typed);
      }}
    >
      <InputNumber min={0.1} max={10000} value={typed} onChange={setTyped} aria-label="Focal length" suffix="mm" />
      <Button htmlType="submit">Enter</Button>
    </form>
  );
}

function Stored({ report, state, act }: Props) {
  const name = report.stored_name;
  const mine = state.places.find((place) => place.name === name);
  return (
    <span className="camera-stored">
      <Button onClick={() => act("store", { name, ...(mine ? { number: mine.number } : {}) })}>
        {`Store as “${name}”`}
      </Button>
      {state.places.map((place) => (
        <Plain key={place.number} className="filter-toggle" onClick={() => act("recall", place.number)}>
          {`${place.number} ${place.name}, ${place.focal_length_mm} mm`}
        </Plain>
      ))}
    </span>
  );
}
