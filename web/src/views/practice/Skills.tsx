import type { PracticeRoom, SkillId, SkillStanding } from "../../api/exerciseQueries";
import { percent } from "../../parts/format";
import { Plain } from "../../parts/Plain";

interface Props {
  room: PracticeRoom;
  only: SkillId | null;
  onChoose: (skill: SkillId) => void;
}

/** How each skill stands, and what one still falls into. */
export function Skills({ room, only, onChoose }: Props) {
  const fallen = room.skills.flatMap(({ traps, title }) =>
    traps.filter((trap) => trap.fallen > 0).map((trap) => ({ ...trap, of: title })),
  );
  fallen.sort((one, other) => other.fallen - one.fallen);
  return (
    <section className="practice-standing">
      {fallen.length > 0 && (
        <>
          <h2>What still catches you</h2>
          <ul className="practice-fallen">
            {fallen.slice(0, 6).map(({ trap, title, rule, of, fallen: times, met }) => (
              <li key={`${of} ${trap}`} data-fallen={trap}>
                <b>{title}</b>
                <span>{`${met === 1 ? "The last time" : `${times} of the last ${Math.min(5, met)} times`}. ${rule}`}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      <h2>How it stands</h2>
      <ul className="practice-skills">
        {room.skills.map((skill) => (
          <li key={skill.skill}>
            <Plain
              className="practice-skill-row"
              data-practice={skill.skill}
              aria-pressed={only === skill.skill}
              onClick={() => onChoose(skill.skill)}
            >
              <b>{skill.title}</b>
              <Kept skill={skill} />
              <span>{saidOf(skill)}</span>
            </Plain>
          </li>
        ))}
      </ul>
    </section>
  );
}

function saidOf({ answered, right, difficulty }: SkillStanding): string {
  if (answered === 0) return "not asked yet";
  return `${right} of ${answered} right; now ${hardSaid(difficulty)}`;
}

/** How near the wrong answers are. */
const hardSaid = (difficulty: number) =>
  difficulty < 0.3
    ? "wide apart"
    : difficulty < 0.6
      ? `nearer (${percent(difficulty)})`
      : `close (${percent(difficulty)})`;

/** A small square for each trap: full where it is remembered, half where it was met, empty where it was not. */
function Kept({ skill }: { skill: SkillStanding }) {
  return (
    <svg
      className="practice-kept"
      width={skill.traps.length * 14}
      height="12"
      role="img"
      aria-label={`${skill.traps.filter(({ kept }) => kept).length} of ${skill.traps.length} remembered`}
    >
      {skill.traps.map(({ trap, kept, met }, index) => (
        <g key={trap}>
          <rect className="kept-box" x={index * 14 + 1} y="1" width="10" height="10" />
          {met > 0 && (
            <rect className="kept-full" x={index * 14 + 1} y={kept ? 1 : 6} width="10" height={kept ? 10 : 5} />
          )}
        </g>
      ))}
    </svg>
  );
}
