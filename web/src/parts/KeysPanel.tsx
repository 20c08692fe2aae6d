import "./KeysPanel.css";

import Button from "antd/es/button";
import { memo, type ReactNode } from "react";
import { Link } from "react-router";
import { Panel } from "./Panel";

interface Props {
  title: string;
  keys: readonly (readonly [key: string, what: string])[];
  open: boolean;
  onClose: () => void;
  children: ReactNode;
}

/** What the keys of a screen do, and how to read its drawing. */
export const KeysPanel = memo(function KeysPanel({ title, keys, open, onClose, children }: Props) {
  return (
    <Panel title={title} open={open} onClose={onClose} size={400} mask={false} destroyOnHidden className="panel">
      <dl className="keys">
        {keys.map(([key, what]) => (
          <div key={key}>
            <dt>
              <kbd>{key}</kbd>
            </dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      {children}
      <p>
        <Link to="/terms" onClick={onClose}>
          All terms, drawn
        </Link>
      </p>
      <Button onClick={onClose}>Close</Button>
    </Panel>
  );
});
