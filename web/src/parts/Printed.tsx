import "./Printed.css";

import Button from "antd/es/button";
import { type ReactNode, useEffect, useLayoutEffect, useRef, useState } from "react";
import { createPortal, flushSync } from "react-dom";

import { today } from "./format";

// What was asked for by a button; null is what the screen prints by itself.
let wanted: string | null = null;

/** Prints one sheet of the screen, or what the screen prints by itself. */
export function print(sheet: string | null = null): void {
  wanted = sheet;
  window.print();
}

interface Props {
  name: string;
  /** What the browser's own printing prints on this screen. */
  usual?: boolean;
  /** One side, its words made smaller until they fit; lengths in millimetres. */
  fit?: { width: number; height: number };
  children: () => ReactNode;
}

/** A sheet of paper: made when it is printed, and only that one is printed. */
export function Printed({ name, usual = false, fit, children }: Props) {
  const [printing, setPrinting] = useState(false);
  useEffect(() => {
    const before = () => flushSync(() => setPrinting(wanted === null ? usual : wanted === name));
    const after = () => {
      wanted = null;
      flushSync(() => setPrinting(false));
    };
    window.addEventListener("beforeprint", before);
    window.addEventListener("afterprint", after);
    return () => {
      window.removeEventListener("beforeprint", before);
      window.removeEventListener("afterprint", after);
    };
  }, [name, usual]);
  if (!printing) return null;
  return createPortal(
    <Paper name={name} {...(fit ? { fit } : {})}>
      {children()}
    </Paper>,
    document.body,
  );
}

const MM = 96 / 25.4;

/** Makes the words of a sheet smaller until they fit; lengths in millimetres. */
export function useFit<T extends HTMLElement>(fit?: { width: number; height: number }) {
  const paper = useRef<T>(null);
  useLayoutEffect(() => {
    const sheet = paper.current;
    if (!sheet || !fit) return;
    sheet.style.width = `${fit.width}mm`;
    for (let size = 9; size >= 5.5; size -= 0.25) {
      sheet.style.fontSize = `${size}pt`;
      if (sheet.scrollHeight <= fit.height * MM) break;
    }
    sheet.style.width = "";
  }, [fit]);
  return paper;
}

function Paper({ name, fit, children }: Omit<Props, "children" | "usual"> & { children: ReactNode }) {
  const paper = useFit<HTMLElement>(fit);
  return (
    <article ref={paper} className={`printed printed-${name}`} data-printed={name}>
      {!fit && name !== "cards-a4" && (
        <p className="paper-head">{`${document.title.replace(" · Tropeion", "")}, ${today()}`}</p>
      )}
      {children}
    </article>
  );
}

/** Prints a sheet; on phones too. */
export function PrintButton({ sheet, children }: { sheet?: string; children: ReactNode }) {
  return (
    <Button className="print-button" onClick={() => print(sheet ?? null)}>
      {children}
    </Button>
  );
}
