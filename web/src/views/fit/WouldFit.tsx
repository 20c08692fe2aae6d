import "./WouldFit.css";

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import Input from "antd/es/input";
import { useState } from "react";
import { Link, useNavigate } from "react-router";

import type { Fit, SystemsReport, WouldFitReport } from "../../api/client";
import { lensReadQuery, mountsQuery, wouldFitQuery } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import { useChange } from "../../app/useChange";
import { useScreen } from "../../app/screen";
import { GRADE_WORDS, GradeMark } from "../../drawing/GradeMark";
import { lensFront } from "../../drawing/scene";
import { Stack } from "../../drawing/Stack";
import { money } from "../../parts/format";
import { Failed } from "../../parts/Failed";

const UNKNOWN_GENERATION = "Its generation is not known: look at the lens before it is mounted.";
const FOCAL = [20, 24, 28, 35, 50, 58, 85, 105, 135, 200, 300];

/** In a shop: a lens that is not owned, by its mount and focal length, against every body at hand. */
export default function WouldFit() {
  const [address, change] = useChange();
  const navigate = useNavigate();
  const [text, setText] = useState("");
  const { own: practice } = usePractices();
  const mounts = useQuery(mountsQuery(practice));
  const read = useQuery({
    ...lensReadQuery(text.trim()),
    enabled: text.trim() !== "",
    placeholderData: keepPreviousData,
  });
  const said = text.trim() === "" ? null : (read.data ?? null);
  const mount = address.get("mount") ?? said?.mount ?? null;
  const focal = Number(address.get("mm") ?? said?.focal_mm ?? 0);
  const fNumber = said?.f_number ?? null;
  const ready = mount !== null && focal > 0 && focal <= 10_000;
  const answer = useQuery({
    ...wouldFitQuery(mount ?? "", focal, fNumber, practice),
    enabled: ready,
    placeholderData: keepPreviousData,
  });
  const answered = ready && answer.isSuccess && !answer.isPlaceholderData;
  useScreen({
    title: "Would it fit?",
    answer: answered ? `fit ${mount} ${focal}` : mounts.isSuccess && !ready ? "fit" : undefined,
    className: "fit",
    keys: {
      l: () => void navigate("/"),
      k: () => void navigate("/kit"),
      Escape: () => {
        setText("");
        change({ mount: null, mm: null });
      },
    },
  });
  const systems = [...(mounts.data?.systems ?? [])].sort((one, other) => one.name.localeCompare(other.name));
  const name = systems.find(({ id }) => id === mount)?.name ?? mount;
  const error = mounts.error ?? answer.error;
  // Back to a question that was answered.
  const again = (kept: string | null) => {
    setText("");
    change(kept === null ? { mount: null } : { mount: kept, mm: null });
  };
  return (
    <>
      <h1>Would it fit?</h1>
      <Input
        value={text}
        size="large"
        maxLength={400}
        allowClear
        aria-label="What is engraved on the lens"
        placeholder="as engraved: mount, 55/2.2 …"
        onChange={(event) => {
          setText(event.target.value);
          change({ mount: null, mm: null });
        }}
      />
      {said && said.doubts.length > 0 && (
        <ul className="findings">
          {said.doubts.map((doubt) => (
            <li key={doubt} className="caution">
              {doubt}
            </li>
          ))}
        </ul>
      )}
      {error && (
        <Failed
          error={error}
          onRetry={() => {
            void mounts.refetch();
            void answer.refetch();
          }}
        />
      )}
      {mount === null ? (
        <MountChoice systems={systems} settled={mounts.isSuccess} onChoose={(id) => change({ mount: id })} />
      ) : (
        <p className="fit-said">
          <button type="button" className="unfold" onClick={() => again(null)}>{`${name ?? ""} lens`}</button>
          {focal > 0 && (
            <button type="button" className="unfold" onClick={() => again(mount)}>
              {`${focal} mm${fNumber ? ` f/${fNumber}` : ""}`}
            </button>
          )}
        </p>
      )}
      {mount !== null && !ready && <FocalChoice onChoose={(mm) => change({ mount, mm: String(mm) })} />}
      {ready && answer.data && <Answers answer={answer.data} />}
    </>
  );
}

interface MountProps {
  systems: SystemsReport["systems"];
  settled: boolean;
  onChoose: (id: string) => void;
}

function MountChoice({ systems, settled, onChoose }: MountProps) {
  return (
    <section>
      <h2>Its mount</h2>
      <div className="fit-choices">
        {systems.map(({ id, name }) => (
          <button key={id} type="button" data-mount={id} onClick={() => onChoose(id)}>
            {name}
          </button>
        ))}
      </div>
      {settled && systems.length === 0 && (
        <p>
          No mount system is known yet. <Link to="/files">Bring in a gear file</Link>
        </p>
      )}
    </section>
  );
}

function FocalChoice({ onChoose }: { onChoose: (mm: number) => void }) {
  return (
    <section>
      <h2>Its focal length, mm</h2>
      <div className="fit-choices numbers">
        {FOCAL.map((one) => (
          <button key={one} type="button" data-focal={one} onClick={() => onChoose(one)}>
            {one}
          </button>
        ))}
        <form
          onSubmit={(event) => {
            event.preventDefault();
            const value = Number(new FormData(event.currentTarget).get("mm"));
            if (value > 0) onChoose(value);
          }}
        >
          <input name="mm" inputMode="decimal" placeholder="other" aria-label="Another focal length, mm" />
        </form>
      </div>
    </section>
  );
}

function Answers({ answer }: { answer: WouldFitReport }) {
  const { report } = answer;
  const longest = Math.max(60, ...report.fits.map((fit) => Math.min(lensFront(fit.section) ?? 0, 170)));
  const scale = 104 / longest;
  const assumed = answer.assumed.map((word) => word.replaceAll("_", " ").replace(/ mm$/, ""));
  const begin = new URLSearchParams({
    item: "new",
    with_name: answer.name,
    with_mount: report.pieces[report.id]?.mount ?? "",
  });
  const works = report.fits.filter((fit) => fit.works).length;
  return (
    <section data-state="would-fit">
      <p className="fit-verdict">
        {report.fits.length === 0
          ? "There is no body in the kit yet."
          : works
            ? `On ${works} of ${report.fits.length} bodies.`
            : "On none of the bodies."}
      </p>
      <ul className="fit-bodies">
        {report.fits.map((fit) => (
          <li
            key={fit.id}
            data-body={fit.id}
            data-grade={fit.surely ? (fit.grade ?? "nothing") : "not-known"}
          >
            <span className="fit-head">
              {fit.grade ? <GradeMark grade={fit.grade} size={26} /> : <span className="cell-nothing" />}
              <strong>{fit.name}</strong>
              <span className="route-gives">
                {!fit.surely ? "Not known" : fit.grade ? GRADE_WORDS[fit.grade] : "nothing joins them"}
              </span>
            </span>
            {fit.section && (
              <Stack
                scene={{
                  section: fit.section,
                  pieces: report.pieces,
                  lens: report.id,
                  body: fit.id,
                  adapters: fit.adapters,
                  route: null,
                }}
                scale={scale}
                width={118}
                height={44}
              />
            )}
            <span className="fit-text">
              <span>{fit.sentence}</span>
              <strong>{buying(fit, report)}</strong>
              {fit.warnings.map((warning) => (
                <span key={warning} className="warning">
                  <GradeMark grade="danger" size={15} /> {warning}
                </span>
              ))}
            </span>
          </li>
        ))}
      </ul>
      <p className="route-gives">
        {assumed.length
          ? `Assumed as usual for this mount: ${assumed.join(", ")}. ${UNKNOWN_GENERATION}`
          : "Nothing else is known of this lens: look at it before it is mounted."}
      </p>
      <p className="message-actions">
        <Link to={`/kit/lenses?${begin.toString()}`}>I bought it: add it</Link>
      </p>
    </section>
  );
}

/** What would have to be bought for it. */
function buying(fit: Fit, report: WouldFitReport["report"]): string {
  if (!fit.grade || fit.section === null) return "";
  const missing = fit.adapters.filter((id) => !report.pieces[id]?.owned);
  if (fit.adapters.length === 0) return "Straight on, no adapter.";
  const names = (ids: readonly string[]) => ids.map((id) => report.pieces[id]?.name ?? id).join(" + ");
  if (missing.length === 0) return `With what is at hand: ${names(fit.adapters)}.`;
  const price = fit.price === null ? "price unknown" : money(fit.price, report.currency);
  return `To buy: ${names(missing)}, ${price}.`;
}
