import Input from "antd/es/input/Input";
import Button from "antd/es/button";
import { useState } from "react";
import { Plain } from "../../parts/Plain";

interface Props {
  what: string;
  onStrike: (reason: string) => void;
}

/** Strikes something out, with a reason; it stays to be seen. */
export function Strike({ what, onStrike }: Props) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  if (!open) {
    return (
      <Plain className="unfold" aria-label={`Strike out ${what}`} onClick={() => setOpen(true)}>
        strike out
      </Plain>
    );
  }
  return (
    <form
      className="bench-strike"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim() === "") return;
        onStrike(reason.trim());
        setOpen(false);
        setReason("");
      }}
    >
      <label className="bench-field">
        <span>Why it counts no more</span>
        <Input value={reason} maxLength={200} onChange={(event) => setReason(event.target.value)} data-field="reason" />
      </label>
      <Button size="small" htmlType="submit" disabled={reason.trim() === ""}>
        Strike it out
      </Button>
      <Button size="small" type="text" onClick={() => setOpen(false)}>
        Cancel
      </Button>
    </form>
  );
}
