import type { Term, Word } from "../api/client";

let terms: readonly Term[] = [];
let named = new Map<string, Term>();

/** Takes the glossary that the server sends with its first answer; nothing is drawn before. */
export function learn(glossary: readonly Term[]): void {
  terms = glossary;
  named = new Map(glossary.map((term) => [term.key, term]));
}

/** All the terms, in the order in which they are told. */
export const glossary = () => terms;

/** The trade's word for something, as it stands within a sentence. */
export const word = (key: Word): string => named.get(key)?.term ?? key.replaceAll("_", " ");

/** The same at the beginning of a line. */
export const headed = (key: Word): string => capital(word(key));

export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** What a form of such items asks when it asks for this field, where the glossary tells. */
export const termOf = (field: string, kind: string): Term | undefined =>
  // An adapter's length runs from seat to seat; another thing's is just its length.
  field === "length_mm" && kind !== "adapters" ? undefined : terms.find(({ fields }) => fields.includes(field));
