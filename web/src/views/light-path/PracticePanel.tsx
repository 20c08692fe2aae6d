import "./PracticePanel.css";

import Segmented from "antd/es/segmented";
import { memo } from "react";

import type { Chosen, PracticeKey } from "../../app/practice";
import { usePractices } from "../../app/Practices";
import { SubjectsEditor } from "./SubjectsEditor";
import { Panel } from "../../parts/Panel";

interface Props {
  open: boolean;
  practice: Chosen;
  onChange: (key: PracticeKey, value: string) => void;
  onClose: () => void;
}

/** The choices on which people of the trade disagree. Kept for you, and carried by the address. */
export default memo(function PracticePanel({ open, practice, onChange, onClose }: Props) {
  const { choices, usual } = usePractices();
  return (
    <Panel title="Preferences" open={open} onClose={onClose} size={380} mask={false} destroyOnHidden className="panel">
      <p className="panel-lead">
        People of the trade disagree on these. What you choose is kept, and stands beside every answer it changes.
      </p>
      {choices.map(({ key: name, question, changes, options }) => {
        const key = name as PracticeKey;
        return (
          <fieldset key={key} className="choice">
            <legend>{question}</legend>
            <Segmented
              aria-label={question}
              block
              value={practice[key]}
              options={options.map(({ value, label }) => ({ value, label }))}
              onChange={(value) => onChange(key, value)}
            />
            <p className="choice-note">
              {changes}
              {practice[key] !== usual[key] && <strong> Differs from the usual.</strong>}
            </p>
          </fieldset>
        );
      })}
      <SubjectsEditor />
    </Panel>
  );
});
