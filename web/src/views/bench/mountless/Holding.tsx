import { useQuery } from "@tanstack/react-query";
import Input from "antd/es/input/Input";
import Button from "antd/es/button";
import { useState } from "react";

import { type BenchPiece, holdingQuery, type TryWritten } from "../../../api/benchQueries";
import { mm, unbroken } from "../../../parts/format";
import { Refused } from "../../../parts/Refused";
import { numberIn, useKept } from "../useKept";
import { WriteMeasured } from "../WriteMeasured";
import { Plain } from "../../../parts/Plain";

const SAW = [
  ["sharp", "far things are sharp"],
  ["soft", "far things are soft"],
  ["near", "something nearer is sharp"],
] as const;

interface Props {
  piece: BenchPiece;
  body: string;
  bodyName: string;
}

/** Where infinity lies, found by holding the lens before the body: lengths tried, and what was seen. */
export function Holding({ piece, body, bodyName }: Props) {
  const [tries, setTries] = useKept<TryWritten[]>(`holding ${piece.id} ${body}`, []);
  const found = useQuery(holdingQuery({ lens: piece.id, body }, tries, 0.3));
  const fields = found.data?.fields ?? {};
  const { register_mm: register, standard_uncertainty_mm: u } = found.data ?? {};
  return (
    <section data-section="holding" data-settled={found.isFetching ? undefined : tries.length}>
      <h2>Find where it is sharp</h2>
      <p>
        {`Hold ${piece.name} in a tube of card before ${bodyName}, out of doors, towards something `}
        far: never the sun. Measure from the mount face of the body to the shoulder of the lens; nothing touches the
        sensor.
      </p>
      <NewTry onTry={(one) => setTries([...tries, one])} />
      <ol className="bench-readings" aria-label="Lengths tried">
        {tries.map((one, index) => (
          <li key={index} data-try={one.length_mm}>
            <span>{`${mm(one.length_mm, 1)} mm: ${toldOf(one)}`}</span>
            <span className="problem-line">{found.data?.tries[index]?.wrong ?? ""}</span>
            <Plain className="unfold" onClick={() => setTries(tries.filter((_, other) => other !== index))}>
              leave out
            </Plain>
          </li>
        ))}
      </ol>
      {found.error && <Refused error={found.error} />}
      {found.data && (
        <p role="status" className={found.data.contradicted ? "warning" : ""}>
          {unbroken(found.data.says)}
          {found.data.next_mm !== null && !found.data.contradicted ? ` Try ${mm(found.data.next_mm, 1)} mm next.` : ""}
        </p>
      )}
      {Object.keys(fields).length > 0 && register != null && u != null && (
        <WriteMeasured
          kind="lenses"
          id={piece.id}
          fields={fields}
          says={`held before ${bodyName}: ${mm(register)} ± ${mm(u)} mm`}
        />
      )}
    </section>
  );
}

const toldOf = (one: TryWritten) =>
  one.saw === "near" ? `sharp at ${one.distance_m ?? "?"} m` : (SAW.find(([saw]) => saw === one.saw)?.[1] ?? one.saw);

function NewTry({ onTry }: { onTry: (one: TryWritten) => void }) {
  const [length, setLength] = useState("");
  const [saw, setSaw] = useState<TryWritten["saw"]>("sharp");
  const [away, setAway] = useState("");
  const [mmLong, metres] = [numberIn(length), numberIn(away)];
  const within = mmLong === null || (mmLong >= -200 && mmLong <= 1000);
  const whole = mmLong !== null && within && (saw !== "near" || (metres ?? 0) > 0);
  return (
    <form
      className="bench-actions"
      onSubmit={(event) => {
        event.preventDefault();
        if (!whole) return;
        onTry({ length_mm: mmLong, saw, distance_m: saw === "near" ? metres : null });
        setLength("");
        setAway("");
      }}
    >
      <label className="bench-field">
        <span>mount face to shoulder, mm</span>
        <Input
          inputMode="decimal"
          value={length}
          onChange={(event) => setLength(event.target.value)}
          data-field="length"
          aria-invalid={!within}
        />
        <small>
          {within ? "negative where the barrel stands inside the mount" : "from −200 mm (inside the mount) to 1000 mm"}
        </small>
      </label>
      <span className="toggles" role="group" aria-label="What was seen">
        {SAW.map(([one, label]) => (
          <Plain key={one} className="filter-toggle" aria-pressed={saw === one} onClick={() => setSaw(one)}>
            {label}
          </Plain>
        ))}
      </span>
      {saw === "near" && (
        <label className="bench-field">
          <span>so far from the sensor, m</span>
          <Input
            inputMode="decimal"
            value={away}
            onChange={(event) => setAway(event.target.value)}
            data-field="distance"
          />
        </label>
      )}
      <Button htmlType="submit" disabled={!whole}>
        Note it
      </Button>
    </form>
  );
}
