import Button from "antd/es/button";
import { useRef } from "react";

interface Props {
  says: string;
  label: string;
  accept: string;
  busy: boolean;
  primary?: boolean;
  onFile: (file: File) => void;
}

/** A button that asks for a file; the same file may be chosen again. `label` names what is asked for. */
export function FileChooser({ says, label, accept, busy, primary = false, onFile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button type={primary ? "primary" : "default"} loading={busy} onClick={() => input.current?.click()}>
        {says}
      </Button>
      <input
        ref={input}
        type="file"
        className="unseen"
        tabIndex={-1}
        aria-label={label}
        accept={accept}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onFile(file);
          event.target.value = "";
        }}
      />
    </>
  );
}
