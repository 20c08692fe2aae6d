import { useState } from "react";
import { NavigationType, useLocation, useNavigationType } from "react-router";

/**
 * What is typed into a field that is kept in the address. The field leads, since an address follows a moment
 * later; going back or forward, the address does.
 */
export function useTyped(kept: string): [string, (text: string) => void] {
  const { key } = useLocation();
  const kind = useNavigationType();
  const [typed, setTyped] = useState({ text: kept, key });
  if (kind === NavigationType.Pop && typed.key !== key) setTyped({ text: kept, key });
  return [typed.text, (text) => setTyped({ text, key })];
}
