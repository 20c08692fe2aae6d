import { useState } from "react";

import { ProblemError } from "../../api/client";

/** What is wrong, by field; "" is of no field. */
export type Wrong = Record<string, string>;

/** A form that is kept in one go: what is missing is said before anything is sent. */
export function useSaving() {
  const [wrong, setWrong] = useState<Wrong>({});
  const [busy, setBusy] = useState(false);
  const submit = async (missing: Wrong, send: () => Promise<void>) => {
    setWrong(missing);
    if (Object.keys(missing).length > 0 || busy) return;
    setBusy(true);
    try {
      await send();
    } catch (error) {
      const problems = error instanceof ProblemError ? error.problem.errors : [];
      const told: Wrong = {};
      for (const { place, message } of problems) told[place.split(".").pop() ?? ""] = message;
      const text = error instanceof Error ? error.message : "It could not be kept.";
      setWrong(Object.keys(told).length > 0 ? told : { "": text });
    } finally {
      setBusy(false);
    }
  };
  return { wrong, busy, submit };
}
