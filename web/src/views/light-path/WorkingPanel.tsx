import "./WorkingPanel.css";

import { useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";

import type { Step } from "../../api/client";
import { type Question, workingQuery } from "../../api/queries";
import { plain } from "../../parts/format";
import { Plain } from "../../parts/Plain";
import { Panel } from "../../parts/Panel";

interface Props {
  question: Question;
  quantity: string | null;
  onClose: () => void;
}

/**
 * The working of one number: its formula, its terms with values and units, its source; each term opens in
 * turn.
 */
export default function WorkingPanel({ question, quantity, onClose }: Props) {
  const working = useQuery({ ...workingQuery(question), enabled: quantity !== null });
  const steps = working.data?.steps ?? [];
  const step = steps.find((one) => one.quantity === quantity);
  return (
    <Panel
      title="Working"
      open={quantity !== null}
      onClose={onClose}
      size={420}
      mask={false}
      destroyOnHidden
      className="panel"
    >
      {working.isError && <p role="alert">The working could not be read: {working.error.message}</p>}
      {step && <Worked step={step} steps={steps} depth={0} />}
      {working.isSuccess && !step && (
        <p>This number is not known for this rig: a value it needs has not been stated.</p>
      )}
    </Panel>
  );
}

function Worked({ step, steps, depth }: { step: Step; steps: Step[]; depth: number }) {
  const [opened, setOpened] = useState<string | null>(null);
  return (
    <section className="worked" data-quantity={step.quantity}>
      {depth === 0 && <h3>{step.meaning}</h3>}
      <p className="worked-formula">
        <span>{step.expression}</span>
        <strong>{plain(step.value, step.unit)}</strong>
      </p>
      <table>
        <caption className="unseen">{`Terms of ${step.meaning}`}</caption>
        <tbody>
          {step.terms.map((term) => {
            const source = steps.find((one) => one.quantity === term.quantity);
            const values = term.values.map((value) => plain(value, term.unit)).join(", ") || "none";
            const isOpen = opened === term.sign;
            return (
              <Fragment key={term.sign}>
                <tr>
                  <th scope="row">{term.sign}</th>
                  <td className="worked-value">{values}</td>
                  <td>
                    {source ? (
                      <Plain
                        className="unfold"
                        aria-expanded={isOpen}
                        onClick={() => setOpened(isOpen ? null : term.sign)}
                      >
                        {term.meaning}
                      </Plain>
                    ) : (
                      term.meaning
                    )}
                  </td>
                </tr>
                {source && isOpen && (
                  <tr>
                    <td colSpan={3}>
                      <Worked step={source} steps={steps} depth={depth + 1} />
                    </td>
                  </tr>
                )}
              </Fragment>
            );
          })}
        </tbody>
      </table>
      <p className="worked-source">{step.source}</p>
    </section>
  );
}
