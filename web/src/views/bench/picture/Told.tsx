import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import { Link, useNavigate } from "react-router";

import { client, unwrap } from "../../../api/client";
import type { MeasuredAnswer } from "../../../api/measuredQueries";
import { useChange } from "../../../app/useChange";
import { ContrastCurves, LadderCurve, SeriesFrame, SeriesStops } from "../../../drawing/measured/Curves";
import { aperture, mm, signedMm, today } from "../../../parts/format";
import { keepCircle } from "../../../parts/measuredCircle";
import { Refused } from "../../../parts/Refused";
import { TableHead } from "../../../parts/TableHead";
import { layOnBench } from "../../../parts/toBench";
import { numberIn } from "../useKept";
import type { BenchRig } from "../useRig";
import { addressOf } from "../viewNames";

interface Props {
  answer: MeasuredAnswer;
  rig: BenchRig;
  fields: { stop: string; focal: string; distance: string; ring: string };
  work: string;
}

const PLACES = { centre: "centre", corner: "corners", between: "between" } as const;

/** What came of it in figures, and where it goes from here: kept, to the lens, to the bench. */
export function Told({ answer, rig, fields, work }: Props) {
  const [words] = useChange();
  const { picture } = answer;
  const queries = useQueryClient();
  const stop = numberIn(fields.stop);
  const focal = numberIn(fields.focal);
  const keep = useMutation({
    mutationFn: async () =>
      unwrap(
        await client.POST("/api/v1/measured/kept", {
          body: {
            work,
            day: today(),
            note: "",
            ...(stop === null ? {} : { f_number: stop }),
            ...(focal === null ? {} : { focal_length_mm: focal }),
          },
        }),
      ),
    onSuccess: () => queries.invalidateQueries(),
  });
  const needsStop = answer.what === "edges" && stop === null;
  return (
    <div className="measured-told">
      {picture.as_sharpened && (
        <p className="warning">
          As the camera sharpened it: these figures compare only with figures of the same body and settings.
        </p>
      )}
      {picture.pitch_why !== "" && <p className="problem-line">{`In pixels: ${picture.pitch_why}.`}</p>}
      {answer.edges.length > 0 && answer.what === "edges" && <Edges answer={answer} />}
      {answer.refused.length > 0 && answer.what === "edges" && <NotMeasured answer={answer} />}
      {answer.circle && <CircleTold answer={answer} rig={rig} />}
      {answer.ladder && <LadderCurve ladder={answer.ladder} />}
      {answer.ring && <RingTold answer={answer} rig={rig} fields={fields} />}
      {answer.series && answer.series.best.length > 0 && (
        <div>
          <SeriesFrame series={answer.series} />
          <SeriesStops series={answer.series} />
          <ul>
            {answer.series.causes.map((cause) => (
              <li key={cause.cause} data-cause={cause.cause}>
                {cause.says}{" "}
                {cause.saw !== "" && (
                  <Link to={`${addressOf(words, "frames")}&saw=${cause.saw}`}>Which frame tells more</Link>
                )}
              </li>
            ))}
          </ul>
        </div>
      )}
      <p className="message-actions">
        <Button
          type="primary"
          loading={keep.isPending}
          disabled={keep.isSuccess || needsStop}
          onClick={() => keep.mutate()}
          data-action="keep"
        >
          {keep.isSuccess ? "Kept" : "Keep it"}
        </Button>
        {needsStop && <span>Say the stop first: sharpness is kept by its stop.</span>}
        <span className="measured-mark">{`${picture.name}, ${picture.width} × ${picture.height}, SHA-256 ${picture.sha256.slice(0, 12)}…`}</span>
      </p>
      {keep.error && <Refused error={keep.error} />}
    </div>
  );
}

function Edges({ answer }: { answer: MeasuredAnswer }) {
  const per = answer.picture.pitch_mm;
  const rows = (["centre", "between", "corner"] as const).flatMap((place) => {
    const here = answer.edges.filter((edge) => edge.place === place);
    if (here.length === 0) return [];
    const value = (edge: (typeof here)[number]) => edge.line.mtf50_lp_per_mm ?? edge.line.mtf50_cycles_per_pixel;
    const values = here.map(value);
    const doubt = Math.max(
      ...here.map((edge) => (edge.line.uncertainty ?? edge.line.mtf50_cycles_per_pixel / 10) / (per ?? 1)),
    );
    return [{ place, count: here.length, low: Math.min(...values), high: Math.max(...values), doubt }];
  });
  const digits = per === null ? 3 : 1;
  return (
    <div>
      <table className="data-table">
        <TableHead columns={["where", "edges", `sharpness, ${per === null ? "cycles a pixel" : "lp/mm"}`, "doubt"]} />
        <tbody>
          {rows.map((row) => (
            <tr key={row.place} data-place={row.place}>
              <th scope="row">{PLACES[row.place]}</th>
              <td>{row.count}</td>
              <td>{row.count === 1 ? mm(row.low, digits) : `${mm(row.low, digits)} to ${mm(row.high, digits)}`}</td>
              <td>{`± ${mm(row.doubt, per === null ? 4 : 2)}`}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <ContrastCurves edges={answer.edges} />
      <p className="measured-legend">
        The contrast that is left, by how fine a pattern is; where it has fallen to one half, that is the sharpness
        (MTF50). Drawn through the sharpest edge, dashed the softest.
      </p>
      {answer.edges.some((edge) => edge.line.sharpened) && <p>Some overshoot: they were sharpened.</p>}
    </div>
  );
}

/** Why the others do not count, each reason once. */
function NotMeasured({ answer }: { answer: MeasuredAnswer }) {
  const counts = new Map<string, number>();
  for (const { says } of answer.refused) counts.set(says, (counts.get(says) ?? 0) + 1);
  return (
    <ul className="measured-not" aria-label="Not measured">
      {[...counts].map(([says, count]) => (
        <li key={says}>{`${count} not: ${says}.`}</li>
      ))}
    </ul>
  );
}

function CircleTold({ answer, rig }: { answer: MeasuredAnswer; rig: BenchRig }) {
  const queries = useQueryClient();
  const { circle, lens_circle_mm: ofLens } = answer;
  const write = useMutation({
    mutationFn: async () => {
      if (rig.lens === null || ofLens === null || !circle) return;
      const doubt = ((circle.doubt ?? 0) * ofLens) / (circle.circle ?? ofLens);
      await keepCircle(rig.lens, { image_circle_mm: ofLens, tolerance_mm: doubt });
    },
    onSuccess: () => queries.invalidateQueries(),
  });
  if (!circle) return null;
  const stops = (value: number | null) => (value === null ? "black" : `${mm(value)} stops`);
  return (
    <>
      <p>{`The light falls off by ${stops(circle.half_height_stops)} at half the height, ${stops(circle.corner_stops)} in the corner.`}</p>
      {ofLens !== null && rig.lens !== null && (
        <p>
          <Button
            loading={write.isPending}
            disabled={write.isSuccess}
            onClick={() => write.mutate()}
            data-action="circle"
          >
            {write.isSuccess
              ? "Written to the lens"
              : `Write ${mm(ofLens, 1)} mm to ${rig.names[rig.lens] ?? "the lens"}, as measured`}
          </Button>
        </p>
      )}
      {write.error && <Refused error={write.error} />}
    </>
  );
}

function RingTold({ answer, rig, fields }: Omit<Props, "work">) {
  const [words] = useChange();
  const navigate = useNavigate();
  const { ring, which, likely } = answer;
  if (!ring) return null;
  const stop = numberIn(fields.stop);
  const distance = numberIn(fields.distance) ?? 0;
  const toBench = () => {
    const { lens, body, via } = rig;
    if (lens === null || body === null || via === null || stop === null) return;
    const said = fields.ring.trim();
    const read = said === "" ? [] : [numberIn(said) ?? 0];
    const values = [ring.blur_mm, ring.doubt_mm, stop, distance, ...read];
    layOnBench({ lens, body, via }, [{ kind: "edge_blur", values, doubt: null, from_front: false, left_out: false }]);
    void navigate(addressOf(words, "seen"));
  };
  return (
    <>
      <ul>
        {ring.errors.map((error, index) => (
          <li key={error.register_error_mm} data-error={error.register_error_mm} data-chosen={which === index}>
            {`${signedMm(error.register_error_mm)} ± ${mm(error.doubt_mm)} mm at the sensor${which === index ? ": the second frame agrees" : which === null && likely === index ? ": likely, by what is stated of the lengths" : ""}`}
          </li>
        ))}
      </ul>
      {ring.errors.length === 2 && which === null && (
        <p>
          One frame tells how far, not to which side. Take a second one with the ring moved, at the ∞ mark or nearer;
          another stop never tells.
        </p>
      )}
      {!ring.astigmatism_checked && <p>One direction alone: astigmatism was not checked.</p>}
      <p>
        <Button onClick={toBench} disabled={stop === null} data-action="bench">
          {`Lay it on the bench${stop === null ? "" : `, at ${aperture(stop)}`}`}
        </Button>
      </p>
    </>
  );
}
