import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import Select from "antd/es/select";
import { useState } from "react";

import type { KeptRig, OutingReport, OutingWritten } from "../../api/client";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";

interface Props {
  outing: OutingWritten;
  report: OutingReport;
  rigs: readonly KeptRig[];
  onChange: (changed: Partial<OutingWritten>) => void;
}

/** What is to be taken, with which rig, in the order in which it was thought of. */
export function Shots({ outing, report, rigs, onChange }: Props) {
  const { shots } = outing;
  const [name, setName] = useState("");
  const options = rigs.map((rig) => ({ value: rig.id, label: rig.name }));
  const set = (next: OutingWritten["shots"]) => onChange({ shots: next });
  const moved = (from: number, to: number) => {
    const next = [...shots];
    const [one] = next.splice(from, 1);
    if (one) next.splice(to, 0, one);
    set(next);
  };
  return (
    <section>
      <h2>Shots</h2>
      <ol className="outing-shots">
        {shots.map((shot, number) => {
          const seen = report.shots[number];
          return (
            <li key={`${number} ${shot.name}`} data-shot={shot.name}>
              <span className="outing-shot-name">{shot.name}</span>
              <Select
                aria-label={`Rig for ${shot.name}`}
                value={shot.rig}
                options={options}
                popupMatchSelectWidth={false}
                onChange={(rig) => set(shots.map((one, index) => (index === number ? { ...one, rig } : one)))}
              />
              <span className="outing-shot-grade">
                {seen?.grade ? (
                  <>
                    <GradeMark grade={seen.grade} size={18} /> {gradeTitle(seen.grade)}
                  </>
                ) : (
                  seen?.says
                )}
              </span>
              <span className="outing-shot-does">
                <Button
                  size="small"
                  aria-label={`${shot.name} earlier`}
                  disabled={number === 0}
                  onClick={() => moved(number, number - 1)}
                >
                  ↑
                </Button>
                <Button
                  size="small"
                  aria-label={`${shot.name} later`}
                  disabled={number === shots.length - 1}
                  onClick={() => moved(number, number + 1)}
                >
                  ↓
                </Button>
                <Button
                  size="small"
                  aria-label={`${shot.name} away`}
                  onClick={() => set(shots.filter((_, index) => index !== number))}
                >
                  ×
                </Button>
              </span>
            </li>
          );
        })}
      </ol>
      <form
        className="outing-new"
        onSubmit={(event) => {
          event.preventDefault();
          const [first] = rigs;
          if (name.trim() === "" || !first) return;
          set([...shots, { name: name.trim(), rig: shots.at(-1)?.rig ?? first.id }]);
          setName("");
        }}
      >
        <Input
          aria-label="A new shot"
          placeholder="a new shot: the great window, pipe marks …"
          value={name}
          maxLength={120}
          onChange={(event) => setName(event.target.value)}
        />
        <Button htmlType="submit" disabled={name.trim() === "" || rigs.length === 0}>
          Add it
        </Button>
      </form>
    </section>
  );
}
