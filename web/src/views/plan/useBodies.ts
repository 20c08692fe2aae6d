import { useQuery } from "@tanstack/react-query";

import type { Practice } from "../../api/client";
import { gridQuery, type PlanQuestion } from "../../api/planQueries";

/** The bodies of a plan, by name; all of them where it names none. */
export function useBodies(question: PlanQuestion, practice: Practice): { value: string; label: string }[] {
  const bodies = useQuery(gridQuery(practice)).data?.report.bodies ?? [];
  const asked = new Set(question.demands.flatMap((one) => one.bodies));
  const named = bodies.filter(({ id }) => asked.size === 0 || asked.has(id));
  // Digital everyday bodies are asked about first: those on which most works.
  return [...named]
    .sort((one, other) => other.works_now - one.works_now)
    .map(({ id, name }) => ({ value: id, label: name }));
}
