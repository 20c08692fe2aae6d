import "./ChainEditor.css";
import "../../parts/Picker.css";

import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";
import Checkbox from "antd/es/checkbox";
import Select from "antd/es/select";
import { useState } from "react";

import type { MatchReport } from "../../api/client";
import { jointQuery } from "../../api/queries";
import { money, mm } from "../../parts/format";

interface Props {
  report: MatchReport;
  adapters: readonly string[];
  onChange: (adapters: string[]) => void;
  onClose: () => void;
}

/** A chain put together by hand: pieces between lens and body, taken out or put in at any joint. */
export default function ChainEditor({ report, adapters, onChange, onClose }: Props) {
  const [anything, setAnything] = useState(false);
  const [joint, setJoint] = useState<number | null>(null);
  const name = (id: string) => report.pieces[id]?.name ?? id;
  // The mounts on either side of a joint: what the piece before ends in, what the piece behind begins with.
  const after = (index: number) =>
    (index === 0 ? report.pieces[report.lens]?.mount : report.pieces[adapters[index - 1] ?? ""]?.rear_mount) ?? "";
  const before = (index: number) => report.pieces[adapters[index] ?? report.body]?.mount ?? "";
  const put = (index: number, id: string) => {
    onChange([...adapters.slice(0, index), id, ...adapters.slice(index)]);
    setJoint(null);
  };
  return (
    <section className="chain" aria-label="Chain by hand">
      <ol>
        <li className="chain-end">{name(report.lens)}</li>
        {Array.from({ length: adapters.length + 1 }, (_, index) => (
          <li key={index} className="chain-joint">
            {joint === index ? (
              <JointPicker
                after={after(index)}
                before={before(index)}
                anything={anything}
                currency={report.currency}
                onPick={(id) => put(index, id)}
                onLeave={() => setJoint(null)}
              />
            ) : (
              <Button
                size="small"
                type="text"
                aria-label={`Put a piece in at joint ${index + 1}`}
                data-joint={index}
                disabled={adapters.length >= 6}
                onClick={() => setJoint(index)}
              >
                +
              </Button>
            )}
            {index < adapters.length && (
              <span className="chain-piece">
                {name(adapters[index] ?? "")}
                <Button
                  size="small"
                  type="text"
                  aria-label={`Take out ${name(adapters[index] ?? "")}`}
                  onClick={() => onChange(adapters.filter((__, at) => at !== index))}
                >
                  ×
                </Button>
              </span>
            )}
          </li>
        ))}
        <li className="chain-end">{name(report.body)}</li>
      </ol>
      <p className="chain-tools">
        <Checkbox checked={anything} onChange={(event) => setAnything(event.target.checked)}>
          anything, even what does not mate
        </Checkbox>
        <Button size="small" type="link" onClick={onClose}>
          Done
        </Button>
      </p>
    </section>
  );
}

interface PickerProps {
  after: string;
  before: string;
  anything: boolean;
  currency: string;
  onPick: (id: string) => void;
  onLeave: () => void;
}

function JointPicker({ after, before, anything, currency, onPick, onLeave }: PickerProps) {
  const [q, setQ] = useState("");
  const found = useQuery(jointQuery({ after, before, q, anything }));
  return (
    <Select
      ref={(select) => select?.focus()}
      defaultOpen
      showSearch={{ filterOption: false, onSearch: setQ }}
      className="joint-select"
      popupMatchSelectWidth={false}
      placeholder="Which piece?"
      aria-label="Piece to put in"
      notFoundContent={found.isFetching ? null : "Nothing mates here. “Anything” shows the rest."}
      onChange={onPick}
      onBlur={onLeave}
      options={(found.data?.pieces ?? []).map((piece) => ({
        value: piece.id,
        label: (
          <span className={`entry ${piece.mates ? "" : "no-mate"}`}>
            <span>{piece.name}</span>
            <span className="entry-mount">
              {!piece.mates ? "does not mate" : piece.arrives ? "arrives" : "needs another piece"}
              {piece.owned ? ", owned" : piece.price === null ? "" : `, ${money(piece.price, currency)}`}
            </span>
            <span className="entry-register">{mm(piece.length_mm)}</span>
          </span>
        ),
      }))}
    />
  );
}
