import { api, type Practice } from "./client";
import type { components } from "./schema";

export type AskedQuestion = components["schemas"]["AskedQuestion"];
export type Shown = AskedQuestion["shown"];
export type ShownOf<Kind extends Shown["kind"]> = Extract<Shown, { kind: Kind }>;
export type TheAnswer = components["schemas"]["TheAnswer"];
export type AnswerChoice = TheAnswer["choices"][number];
export type PracticeRoom = components["schemas"]["PracticeRoom"];
export type SkillStanding = PracticeRoom["skills"][number];
export type SkillId = SkillStanding["skill"];
export type Coming = NonNullable<PracticeRoom["next"]>;
export type ClassSheet = components["schemas"]["ClassSheet"];

export const roomQuery = (only: SkillId | null) =>
  api.queryOptions("get", "/api/v1/exercises", { params: { query: only === null ? {} : { only } } }, { staleTime: 0 });

// The client widens pairs to lists.
const AS_QUESTION = { staleTime: Infinity, select: (question: unknown) => question as AskedQuestion };
const AS_SHEET = { staleTime: Infinity, select: (sheet: unknown) => sheet as ClassSheet };

/** The same question until it is answered, whatever else is asked meanwhile. */
export const questionQuery = ({ skill, trap, seed, difficulty }: Coming, practice: Practice) =>
  api.queryOptions(
    "get",
    "/api/v1/exercises/question",
    { params: { query: { practice, skill, trap, seed, wanted: difficulty } } },
    AS_QUESTION,
  );

export interface SheetAsked {
  skills: readonly SkillId[];
  count: number;
  seed: number;
  wanted: number;
}

export const classSheetQuery = ({ skills, ...asked }: SheetAsked, practice: Practice) =>
  api.queryOptions(
    "get",
    "/api/v1/exercises/sheet",
    { params: { query: { practice, ...asked, skills: skills.join(",") } } },
    AS_SHEET,
  );
