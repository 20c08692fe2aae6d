import InputNumber from "antd/es/input-number";
import Select from "antd/es/select";
import { useDeferredValue, useId, useState } from "react";

import type { BecomingRow } from "../../../api/client";
import type { useBecoming } from "./useBecoming";
import { useRig } from "./useRig";

interface Props {
  becoming: ReturnType<typeof useBecoming>;
  row: BecomingRow;
  set: { mm: number } | undefined;
}

/** A number that somebody came to: what it is right for, or which mistake leads to it. */
export function Guess({ becoming, row, set }: Props) {
  const [value, setValue] = useState<number | null>(null);
  const [quantity, setQuantity] = useState<"mm" | "f">("mm");
  const guess = useDeferredValue(value);
  const id = useId();
  const answer = useRig(becoming, row, set?.mm, { guess, quantity });
  const found = guess !== null && !answer.isPlaceholderData ? answer.data : undefined;
  return (
    <div className="guess">
      <label htmlFor={id}>You came to</label>
      <InputNumber id={id} min={0.1} max={100000} controls={false} value={value} onChange={setValue} />
      <Select
        aria-label="What it is"
        value={quantity}
        options={[
          { value: "mm", label: "mm" },
          { value: "f", label: "as f/" },
        ]}
        onChange={setQuantity}
      />
      {found && (
        <p role="status" data-guess={found.guess ? String(found.guess.right) : "none"}>
          {found.guess?.says ?? "Nothing that is usual leads from this rig to that number."}
        </p>
      )}
    </div>
  );
}
