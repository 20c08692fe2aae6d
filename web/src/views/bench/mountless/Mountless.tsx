import Input from "antd/es/input/Input";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import {
  benchPieceQuery,
  type BenchPiece,
  type Build,
  mountlessQuery,
  type MountlessReport,
} from "../../../api/benchQueries";
import { useChange } from "../../../app/useChange";
import { BuildSheet } from "../../../drawing/bench/BuildSheet";
import { Failed } from "../../../parts/Failed";
import { unbroken } from "../../../parts/format";
import { PiecePicker } from "../PiecePicker";
import { numberIn } from "../useKept";
import type { BenchRig, RigProps } from "../useRig";
import { BuildTold } from "./BuildTold";
import { Holding } from "./Holding";

/** A lens without a mount: where it is sharp, and what brings it into focus on a body. */
export default function Mountless({ rig }: RigProps) {
  const [words, change] = useChange();
  const id = words.get("mountless") ?? "";
  const piece = useQuery({ ...benchPieceQuery({ kind: "lenses", id }), enabled: id !== "" });
  return (
    <>
      <div className="bench-choose">
        <PiecePicker
          label="Which lens has no mount?"
          mountless
          value={piece.data ? { kind: "lenses", id, name: piece.data.piece.name } : null}
          onPick={(_, chosen) => change({ mountless: chosen }, false)}
        />
        <Wanted />
      </div>
      {piece.error ? (
        <Failed error={piece.error} onRetry={() => void piece.refetch()} />
      ) : id === "" || rig.body === null ? (
        <div className="message" data-state="no-piece">
          <h1>{rig.body === null ? "Before which body? Choose one above." : "Which lens has no mount?"}</h1>
          <p>
            A lens out of a projector or an enlarger is held by its barrel or its rear thread. Find first, before a body
            that you know, how far from it far things get sharp; then buy rings.
          </p>
        </div>
      ) : piece.data ? (
        <Chosen piece={piece.data.piece} rig={rig} body={rig.body} />
      ) : (
        <div className="sheet skeleton" aria-busy="true" />
      )}
    </>
  );
}

const WANTED = [
  ["near", "to focus as near as, m"],
  ["margin", "past infinity by, mm"],
] as const;

function Wanted() {
  const [words, change] = useChange();
  return (
    <>
      {WANTED.map(([key, label]) => (
        <label key={key} className="bench-field">
          <span>{label}</span>
          <Input
            inputMode="decimal"
            defaultValue={words.get(key) ?? ""}
            placeholder={key === "margin" ? "0.3" : "as it comes"}
            data-field={key}
            onBlur={(event) => {
              const value = numberIn(event.target.value);
              change({ [key]: value !== null && value > 0 ? String(value) : null });
            }}
          />
        </label>
      ))}
    </>
  );
}

function Chosen({ piece, rig, body }: { piece: BenchPiece; rig: BenchRig; body: string }) {
  const [words] = useChange();
  const [near, margin] = [numberIn(words.get("near") ?? ""), numberIn(words.get("margin") ?? "")];
  const query = {
    lens: piece.id,
    body,
    ...(near === null ? {} : { near_m: near }),
    ...(margin === null ? {} : { margin_mm: margin }),
  };
  const found = useQuery(mountlessQuery(query));
  if (found.error) return <Failed error={found.error} onRetry={() => void found.refetch()} />;
  if (!found.data) return <div className="sheet skeleton" aria-busy="true" />;
  const { report, why, ways, currency } = found.data;
  return (
    <>
      {report === null ? (
        <div className="sheet bench-sheet">
          <div className="screen-head">
            <h1>{unbroken(`${why[0]?.toUpperCase() ?? ""}${why.slice(1)}.`)}</h1>
          </div>
        </div>
      ) : (
        <Builds report={report} piece={piece} body={body} currency={currency} />
      )}
      <div className="below bench-below">
        <Holding key={`${piece.id} ${body}`} piece={piece} body={body} bodyName={rig.names[body] ?? body} />
        <section data-section="ways">
          <h2>What a sleeve is made of</h2>
          <ul className="findings">
            {ways.map((one) => (
              <li key={one.material} className={one.reversible ? "" : "danger"}>
                <strong>{`${one.material}${one.reversible ? "" : ": cannot be taken back"}. `}</strong>
                {`${one.says} ${one.caution}`}
              </li>
            ))}
          </ul>
          {(report?.cautions ?? []).map((one) => (
            <p key={one} className="setup-caution">
              {one}
            </p>
          ))}
        </section>
      </div>
    </>
  );
}

const rigOf = (build: Build, body: string) =>
  new URLSearchParams({ lens: build.lens, body, via: build.adapters.join(",") }).toString();

/** The lens with the mount that was made for it filled in: it then joins like any other. */
const asMade = (lens: string, build: Build) =>
  `/kit/lenses?${new URLSearchParams({ item: lens, made_mount: build.lens.split("..")[2] ?? "" }).toString()}`;

interface BuildsProps {
  report: MountlessReport;
  body: string;
  piece: BenchPiece;
  currency: string;
}

/** The best three, the chosen one drawn. */
function Builds({ report, piece, body, currency }: BuildsProps) {
  const [at, setAt] = useState(0);
  const build = report.builds[Math.min(at, report.builds.length - 1)];
  return (
    <div className="sheet bench-sheet" data-builds={report.builds.length}>
      <div className="screen-head" aria-live="polite">
        <h1>{unbroken(report.says)}</h1>
        <p>
          {report.fill_uncertainty_mm === null
            ? "How sure its register is, nobody noted: leave room for spacers."
            : `Give or take ${report.fill_uncertainty_mm.toFixed(2)} mm: leave room for spacers.`}
        </p>
      </div>
      {build && (
        <>
          <BuildSheet
            report={report}
            build={build}
            lensName={piece.name}
            lensLengthMm={piece.outline.length_mm}
            lensDiameterMm={piece.outline.outer_mm}
            sensorMm={24}
          />
          <div className="bench-builds" role="group" aria-label="Ways">
            {report.builds.map((one, index) => (
              <BuildTold
                key={one.pieces.join(" ")}
                build={one}
                currency={currency}
                chosen={one === build}
                onChoose={() => setAt(index)}
              />
            ))}
          </div>
          {build.warnings.length > 0 && (
            <ul className="findings">
              {build.warnings.map((one) => (
                <li key={one} className={build.danger ? "danger" : "caution"}>
                  {one}
                </li>
              ))}
            </ul>
          )}
          <p className="message-actions">
            <Link to={`/?${rigOf(build, body)}`} data-open="light-path">
              See it on the light path, and keep it
            </Link>
            <Link to={`/frame?${rigOf(build, body)}`}>its frame</Link>
            <Link to={`/setup?${rigOf(build, body)}`}>set it up</Link>
            <Link to={asMade(piece.id, build)} data-open="made-mount">
              enter it as the mount it has now
            </Link>
          </p>
          <ol className="bench-order numbered" aria-label="In this order">
            {build.order.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ol>
          <p className="bench-how">{build.clear_says}</p>
          {build.irises.map((one) => (
            <p key={one.says} className="bench-how" data-iris={one.stands}>
              {`${one.says} `}
              {one.stops.map((stop) => `f/${stop.f_number}: ${stop.diameter_mm.toFixed(1)} mm`).join(", ")}
            </p>
          ))}
        </>
      )}
    </div>
  );
}
