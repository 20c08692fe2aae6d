import type { Choice, Practice } from "../api/client";

export type Chosen = Required<Practice>;
export type PracticeKey = keyof Chosen;

/** What there is to choose, as the server tells it; the answers where nobody chose; and one's own. */
export interface Practices {
  choices: readonly Choice[];
  usual: Chosen;
  own: Chosen;
  keep: (practice: Chosen) => void;
}

const keyOf = (choice: Choice) => choice.key as PracticeKey;

export const usualOf = (choices: readonly Choice[]): Chosen =>
  Object.fromEntries(choices.map(({ key, usual }) => [key, usual])) as unknown as Chosen;

/** The practice an address carries: what it does not name is the usual. */
export function practiceOf(address: URLSearchParams, { choices, usual }: Practices): Chosen {
  const named = choices.flatMap(({ key, options }) => {
    const value = address.get(key);
    return value !== null && options.some((option) => option.value === value) ? [[key, value]] : [];
  });
  return { ...usual, ...(Object.fromEntries(named) as Partial<Chosen>) };
}

/** Write into an address what differs from the usual. */
export function writePractice(address: URLSearchParams, practice: Chosen, { choices, usual }: Practices): void {
  for (const key of choices.map(keyOf)) {
    if (practice[key] === usual[key]) address.delete(key);
    else address.set(key, practice[key]);
  }
}

/** What is chosen otherwise than `base`, in words. */
export const differences = (practice: Chosen, base: Chosen, choices: readonly Choice[]): string[] =>
  choices
    .filter((choice) => practice[keyOf(choice)] !== base[keyOf(choice)])
    .map((choice) => {
      const value = practice[keyOf(choice)];
      return choice.options.find((option) => option.value === value)?.says ?? value;
    });
