import "./Parts.css";

import { type KeyboardEvent, type RefObject, useEffect, useRef, useState } from "react";
import { Plain } from "../parts/Plain";

/** The drawn parts that have a name, in the order in which they are drawn. */
const partsIn = (drawing: SVGSVGElement | null) =>
  [...(drawing?.querySelectorAll<SVGTitleElement>("g > title, path > title") ?? [])].filter(
    (title) => title.textContent,
  );

/**
 * Names the parts of a drawing for those who do not point: a button that goes from part to part by key, and
 * a tap on a part.
 */
export function Parts({ drawing }: { drawing: RefObject<SVGSVGElement | null> }) {
  const [said, setSaid] = useState("");
  const at = useRef(-1);
  const pointed = useRef<Element | null>(null);
  const point = (title: SVGTitleElement | undefined) => {
    pointed.current?.classList.remove("pointed");
    pointed.current = title?.parentElement ?? null;
    pointed.current?.classList.add("pointed");
    setSaid(title?.textContent ?? "");
  };
  useEffect(() => {
    const svg = drawing.current;
    const tapped = (event: PointerEvent) => {
      if (event.pointerType === "mouse" || !(event.target instanceof Element)) return;
      const titles = partsIn(svg);
      const place = titles.findLastIndex((title) => title.parentElement?.contains(event.target as Element));
      pointed.current?.classList.remove("pointed");
      pointed.current = titles[place]?.parentElement ?? null;
      pointed.current?.classList.add("pointed");
      setSaid(titles[place]?.textContent ?? "");
    };
    svg?.addEventListener("pointerup", tapped);
    return () => svg?.removeEventListener("pointerup", tapped);
  }, [drawing]);
  const step = (by: number) => {
    const titles = partsIn(drawing.current);
    if (titles.length === 0) return;
    at.current = (at.current + by + titles.length) % titles.length;
    point(titles[at.current]);
  };
  const pressed = (event: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (by === undefined && event.key !== "Escape") return;
    event.preventDefault();
    if (by === undefined) point(undefined);
    else step(by);
  };
  return (
    <div className="part-names">
      <Plain
        className="parts-button"
        onClick={() => step(1)}
        onKeyDown={pressed}
        onBlur={() => {
          at.current = -1;
          point(undefined);
        }}
      >
        Name the parts: → next, ← back
      </Plain>
      <p className="part-said" role="status">
        {said}
      </p>
    </div>
  );
}
