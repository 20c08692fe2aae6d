import "./LabelSaid.css";

import { Link } from "react-router";

import type { LabelReport } from "../../api/client";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { mm, money, percent, signedMm } from "../../parts/format";
import { word } from "../../parts/words";

/** What is printed on an adapter or in a listing: both its ends, what is doubtful, what it would open. */
export function LabelSaid({ report }: { report: LabelReport }) {
  const [lens, body] = [report.lens_side[0], report.body_side[0]];
  return (
    <div className="label-said" data-label={report.text}>
      <div className="label-ends">
        <End title={word("lens_mount")} side={report.lens_side} />
        <span aria-hidden="true" className="label-arrow">
          →
        </span>
        <End title={word("camera_mount")} side={report.body_side} />
      </div>
      {report.doubts.length > 0 && (
        <ul className="findings">
          {report.doubts.map((doubt) => (
            <li key={doubt.code + doubt.text} className="caution" data-doubt={doubt.code}>
              {doubt.text}
            </li>
          ))}
        </ul>
      )}
      {report.reversed && <Turned turned={report.reversed} />}
      {report.unread.length > 0 && (
        <p className="route-gives label-unread">{`Not read: ${report.unread.join(", ")}.`}</p>
      )}
      {lens && body && report.room_mm !== null && report.glass === null && (
        <>
          <p>
            <strong>{`${signedMm(report.room_mm)} mm`}</strong>
            {report.ring === "practical"
              ? ": what a plain adapter with these ends measures."
              : report.ring === "tight"
                ? ": hardly room for two couplings."
                : report.ring === "unsure"
                  ? ": whether that is room enough for two couplings is not known."
                  : ": no plain adapter can join these. It holds glass, or the two ends are mixed up."}
          </p>
          <h3>
            {report.serves.length
              ? `Would open ${report.serves.length} of your pairs`
              : "Opens nothing new for what you own"}
          </h3>
          <ul className="label-opens">
            {report.serves.slice(0, 12).map((pair) => (
              <li key={`${pair.lens} ${pair.body}`}>
                <GradeMark grade={pair.after} size={18} />
                <Link to={`/?lens=${pair.lens}&body=${pair.body}`}>{`${pair.lens_name} on ${pair.body_name}`}</Link>
                <span className="route-gives">
                  {pair.before ? `${gradeTitle(pair.before)} until now` : gradeTitle(pair.after)}
                </span>
              </li>
            ))}
          </ul>
          <p className="message-actions">
            <Link to={addAddress(report, lens.mount, body.mount)}>Add it to the kit</Link>
          </p>
          {report.alike.length > 0 && (
            <>
              <h3>Known with these ends</h3>
              <ul className="held">
                {report.alike.map((piece) => (
                  <li key={piece.id}>
                    <span>{piece.name}</span>
                    <span className="route-gives">{`${mm(piece.length_mm)}, ${costOf(piece, report.currency)}`}</span>
                  </li>
                ))}
              </ul>
            </>
          )}
        </>
      )}
    </div>
  );
}

/** The ends the other way round, where only so there is room. */
function Turned({ turned }: { turned: NonNullable<LabelReport["reversed"]> }) {
  return (
    <p className="label-turned">
      {`Reversed, ${word("lens_mount")} ${turned.lens_name}, `}
      {`${word("camera_mount")} ${turned.body_name}, `}
      {`a ring would measure ${mm(turned.room_mm)} mm. `}
      <Link to={`/kit/adapters?${adding("", turned.lens_mount, turned.body_mount)}`}>Add it so</Link>
    </p>
  );
}

const adding = (name: string, lens: string, body: string) =>
  new URLSearchParams({
    item: "new",
    with_name: name,
    with_lens_mount: lens,
    with_body_mount: body,
  }).toString();

const costOf = ({ owned, price }: LabelReport["alike"][number], currency: string) =>
  owned ? "owned" : price === null ? "price unknown" : money(price, currency);

/** A new adapter with the ends that were read, and the length of a plain ring where one is possible. */
function addAddress(report: LabelReport, lens: string, body: string): string {
  return `/kit/adapters?${adding(report.text.slice(0, 120), lens, body)}`;
}

function End({ title, side }: { title: string; side: LabelReport["lens_side"] }) {
  const [best, ...others] = side;
  return (
    <div className="label-end" data-side={title}>
      <span className="figure-label">{title}</span>
      <span className="label-mount">{best ? best.name : "not said"}</span>
      {best && (
        <span className="route-gives">
          {best.confidence >= 0.9 ? "certain" : `${percent(best.confidence)} sure`}
          {others.length > 0 && best.confidence < 0.9 ? `, or ${others.map(({ name }) => name).join(", ")}` : ""}
        </span>
      )}
    </div>
  );
}
