import type { SkillId } from "../../api/exerciseQueries";

/** In the order in which they are learnt. */
export const SKILL_IDS: readonly SkillId[] = [
  "generation",
  "label",
  "reach",
  "links",
  "equivalents",
  "stabiliser",
  "buy",
  "caliper",
  "cause",
  "setup",
  "circle",
  "code",
];

/** A skill by its id in an address; null for none, and for a word that is none. */
export const skillNamed = (word: string | null): SkillId | null => SKILL_IDS.find((skill) => skill === word) ?? null;
