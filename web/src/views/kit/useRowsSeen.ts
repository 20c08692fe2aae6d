import { useCallback, useLayoutEffect, useRef, useState } from "react";

// So many more are drawn before and after those that are seen, for a list that is moved quickly.
const BESIDE = 5;
// Of a box that was not measured yet.
const HEIGHT = 800;

/**
 * Which rows of a list are drawn: those that are seen in the `box` that scrolls it, and a few beside. All rows are
 * `height` pixels high. `show` brings one into sight.
 */
export function useRowsSeen(count: number, height: number) {
  const box = useRef<HTMLDivElement>(null);
  const [seen, setSeen] = useState({ first: 0, most: Math.ceil(HEIGHT / height) });
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const look = () => {
      const first = Math.floor(element.scrollTop / height);
      const most = Math.ceil(element.clientHeight / height) + 1;
      setSeen((before) => (before.first === first && before.most === most ? before : { first, most }));
    };
    look();
    const observer = new ResizeObserver(look);
    observer.observe(element);
    element.addEventListener("scroll", look, { passive: true });
    return () => {
      observer.disconnect();
      element.removeEventListener("scroll", look);
    };
  }, [height]);
  const show = useCallback(
    (row: number) => {
      const element = box.current;
      if (!element) return;
      if (row * height < element.scrollTop) element.scrollTop = row * height;
      else element.scrollTop = Math.max(element.scrollTop, (row + 1) * height - element.clientHeight);
    },
    [height],
  );
  // A list that became shorter is drawn from where it can be scrolled to, before the box says so.
  const first = Math.max(0, Math.min(seen.first, count - seen.most) - BESIDE);
  const last = Math.min(count, first + seen.most + 2 * BESIDE);
  return { box, first, last, show };
}
