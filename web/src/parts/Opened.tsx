import { type ReactNode, Suspense, useState } from "react";

/** What is fetched when it is first wanted, and stays from then on, so that it can close as it opened. */
export function Opened({ when, children }: { when: boolean; children: ReactNode }) {
  const [was, setWas] = useState(when);
  if (when && !was) setWas(true);
  return was ? <Suspense fallback={null}>{children}</Suspense> : null;
}
