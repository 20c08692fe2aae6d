import "./Terms.css";

import Input from "antd/es/input/Input";
import { useEffect, useMemo, useState } from "react";
import { useLocation } from "react-router";

import type { Term } from "../../api/client";
import { useScreen } from "../../app/screen";
import { TermDrawing } from "../../drawing/terms/TermDrawing";
import { capital, glossary } from "../../parts/words";

const TOPICS: Record<Term["topic"], string> = {
  grades: "Grades",
  distances: "From mount face to sensor",
  focus: "Focus",
  picture: "The picture",
  mount: "Mounts and adapters",
  electronics: "Contacts and aperture",
  kit: "In the kit",
};

/** The words that the screens use, each with a drawing where that tells more. */
export default function Terms() {
  const [sought, setSought] = useState("");
  const { hash } = useLocation();
  const asked = hash.slice(1);
  useScreen({ title: "Terms", answer: "terms", className: "terms" });
  const found = useMemo(() => {
    const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
    return glossary().filter(({ term, also, found_by: foundBy, means }) => {
      const text = `${term} ${also} ${foundBy} ${means}`.toLowerCase();
      return words.every((one) => text.includes(one));
    });
  }, [sought]);
  useEffect(() => {
    if (asked) document.getElementById(asked)?.scrollIntoView({ block: "center" });
  }, [asked]);
  return (
    <>
      <header className="terms-head">
        <h1>Terms</h1>
        <Input
          value={sought}
          allowClear
          maxLength={80}
          placeholder="search: a word, or what it means"
          aria-label="Search the terms"
          onChange={(event) => setSought(event.target.value)}
        />
      </header>
      {found.length === 0 && <p role="status">{`No term holds “${sought}”. Try a shorter word.`}</p>}
      {(Object.keys(TOPICS) as Term["topic"][]).map((topic) => (
        <Topic key={topic} title={TOPICS[topic]} terms={found.filter((term) => term.topic === topic)} asked={asked} />
      ))}
    </>
  );
}

function Topic({ title, terms, asked }: { title: string; terms: readonly Term[]; asked: string }) {
  if (terms.length === 0) return null;
  return (
    <section>
      <h2>{title}</h2>
      <dl className="terms-list">
        {terms.map(({ key, term, also, means }) => (
          <div key={key} id={key} className={key === asked ? "term asked" : "term"}>
            <dt>
              <TermDrawing term={key} />
              {capital(term)}
              {also && <span className="term-also">{` also ${also}`}</span>}
            </dt>
            <dd>{means}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
