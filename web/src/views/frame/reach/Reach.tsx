import "../becomes/ChosenRig.css";
import "./Reach.css";

import Button from "antd/es/button";
import InputNumber from "antd/es/input-number";
import { useId } from "react";

import type { FrameReport } from "../../../api/client";
import { useAddress } from "../../../app/useAddress";
import { useChange } from "../../../app/useChange";
import { DistanceBars } from "../../../drawing/DistanceBars";
import { keep, tablesOf } from "../../../parts/csv";
import { aperture, distance } from "../../../parts/format";
import { headed } from "../../../parts/words";
import { tableHelp } from "../becomes/help";
import { Layout, NoTable } from "../becomes/Layout";
import { Photo } from "../../../parts/Photo";
import { pictureOf } from "../settings";
import { useFrame } from "../useFrame";
import { useFrameScreen } from "../useFrameScreen";
import { Closer } from "./Closer";
import { DepthTable } from "./DepthTable";
import { EqualFraming } from "./EqualFraming";

/** Depth at every stop and distance, what brings it closer, and another rig at the same framing. */
export default function Reach() {
  const [address] = useAddress();
  const [words, change] = useChange();
  const frame = useFrame(address, words);
  const { report } = frame;
  const { error, missing } = useFrameScreen({
    address,
    change,
    names: report?.names ?? {},
    title: "Depth and reach",
    answer: frame.settled ? `reach ${address.lens ?? ""} ${address.body ?? ""}` : undefined,
    waiting: !frame.settled && frame.both && !frame.error && frame.nothingFits === null,
    help: tableHelp("Depth and reach"),
    keys: {},
  });
  const failure = frame.error ?? error;
  const atId = useId();
  if (failure) return <NoTable error={failure} onRetry={() => void frame.frame.refetch()} />;
  if (!frame.both) return <NoTable pick={missing} />;
  if (frame.nothingFits !== null) return <NoTable nothing={frame.nothingFits} />;
  if (!report) return <NoTable />;
  const at = report.sharp_m;
  const here = report.depth.filter(({ distance_m: one }) => at !== null && Math.abs(one - at) < 1e-9);
  const units = address.practice.distances;
  return (
    <Layout
      sentence={report.reason || report.sentence}
      asked={
        <div className="frame-controls becomes-asked">
          <div className="frame-asked">
            <label htmlFor={atId}>Focused at, m</label>
            <InputNumber
              id={atId}
              min={0.01}
              max={100000}
              value={report.at_m}
              placeholder="infinity"
              onChange={(value) => change({ at: value === null ? "inf" : String(value) }, true)}
            />
          </div>
          <Zoomed report={report} mm={words.get("mm")} onChange={(mm) => change({ mm }, true)} />
        </div>
      }
      beside={
        report.reason === "" && (
          <section className="chosen-rig">
            <h2>{`${aperture(report.f_number)} on the ring`}</h2>
            <Photo
              shape={report.width_mm / report.height_mm}
              circleUnknown={report.image_circle_mm === null}
              one={{
                url: pictureOf(frame.query, 300),
                says: `Illustration: ${report.sentence}`,
                label: "",
              }}
              other={null}
            />
            <p>{`${report.circle_of_confusion_mm.toFixed(3)} mm of blur at the sensor passes for sharp.`}</p>
          </section>
        )
      }
    >
      {here.length > 0 && at !== null && (
        <section className="becomes-words">
          <h2>{`${headed("depth_of_field")}, focused at ${distance(at * 1000, units)}`}</h2>
          <DistanceBars
            name="depth"
            units={units}
            at={at}
            bars={here.map((row) => ({
              key: String(row.f_number),
              label: aperture(row.f_number),
              near_m: row.near_m,
              far_m: row.far_m,
              mark_m: row.hyperfocal_m,
              chosen: row.f_number === report.f_number,
              says: "",
            }))}
            onChoose={(n) => change({ n }, false)}
          />
          <p>The ring marks the hyperfocal distance: focused there, everything to infinity is sharp enough.</p>
        </section>
      )}
      <DepthTable report={report} units={units} onStop={(n) => change({ n }, false)} />
      <Closer report={report} practice={address.practice} words={words} change={change} />
      <EqualFraming report={report} practice={address.practice} words={words} change={change} />
      <div className="toggles becomes-words">
        <Button onClick={() => keep(`${report.lens}-${report.body}-depth.csv`, "text/csv", tablesOf(report.depth))}>
          Depth of field as CSV
        </Button>
      </div>
    </Layout>
  );
}

interface ZoomedProps {
  report: FrameReport;
  mm: string | null;
  onChange: (mm: string) => void;
}

/** A zoom is looked at in one setting. */
function Zoomed({ report, mm, onChange }: ZoomedProps) {
  const id = useId();
  const [short, long] = report.marked_mm;
  if (short === long) return null;
  return (
    <div className="frame-asked">
      <label htmlFor={id}>Focal length on the ring, mm</label>
      <InputNumber
        id={id}
        min={short}
        max={long}
        value={Number(mm ?? short)}
        onChange={(value) => {
          if (value !== null) onChange(String(value));
        }}
      />
    </div>
  );
}
