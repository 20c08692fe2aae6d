import Drawer from "antd/es/drawer";
import Segmented from "antd/es/segmented";
import { memo } from "react";

import { CHOICES, type Chosen, DEFAULT_PRACTICE, type PracticeKey } from "../../app/practice";

interface Props {
  open: boolean;
  practice: Chosen;
  onChange: (key: PracticeKey, value: string) => void;
  onClose: () => void;
}

/** The choices on which people of the trade disagree. Kept for you, and carried by the address. */
export const PracticePanel = memo(function PracticePanel({ open, practice, onChange, onClose }: Props) {
  return (
    <Drawer title="Your practice" open={open} onClose={onClose} size={380} mask={false} destroyOnHidden className="panel">
      <p className="panel-lead">
        People of the trade disagree on these. What you choose is kept, and stands beside every answer it changes.
      </p>
      {CHOICES.map(({ key, question, options }) => (
        <fieldset key={key} className="choice">
          <legend>{question}</legend>
          <Segmented
            aria-label={question}
            block
            value={practice[key]}
            options={options.map(({ value, label }) => ({ value, label }))}
            onChange={(value) => {
              onChange(key, value);
            }}
          />
          {practice[key] !== DEFAULT_PRACTICE[key] && <p className="choice-note">Differs from the usual.</p>}
        </fieldset>
      ))}
    </Drawer>
  );
});
