import type { Practice } from "../api/client";

export const DEFAULT_PRACTICE: Required<Practice> = {
  trust: "nominal",
  crop: "diagonal",
  equivalence: "framing",
  distances: "metric",
  use: "still",
  blur: "1500",
  glass: "accept",
  electronics: "active",
  rings: "cheapest",
  heavy: "fine",
  entry: "essential",
  zooms: "use",
  throw: "long",
  focusing: "wide_open",
  purpose: "infinity",
  pieces: "3",
};

export type Chosen = Required<Practice>;
export type PracticeKey = keyof Chosen;

interface Choice {
  key: PracticeKey;
  question: string;
  options: { value: string; label: string; says: string }[];
}

/** Every choice on which people disagree, in the words of the trade. `says` is what stands beside an answer. */
export const CHOICES: Choice[] = [
  {
    key: "trust",
    question: "How far to trust a nominal length",
    options: [
      { value: "nominal", label: "Nominal", says: "nominal lengths" },
      { value: "cautious", label: "Cautious", says: "worst case of the tolerances" },
    ],
  },
  {
    key: "equivalence",
    question: "What “equivalent” means",
    options: [
      { value: "framing", label: "Framing", says: "framing only" },
      { value: "framing_and_depth", label: "Framing and depth", says: "framing and depth of field" },
    ],
  },
  {
    key: "crop",
    question: "Crop factor taken from",
    options: [
      { value: "diagonal", label: "Diagonal", says: "crop by the diagonal" },
      { value: "width", label: "Width", says: "crop by the width" },
    ],
  },
  {
    key: "distances",
    question: "Distances",
    options: [
      { value: "metric", label: "Metric", says: "metric distances" },
      { value: "imperial", label: "Imperial", says: "imperial distances" },
    ],
  },
  {
    key: "use",
    question: "Recording modes for",
    options: [
      { value: "still", label: "Stills", says: "still modes" },
      { value: "film", label: "Film", says: "film modes" },
    ],
  },
  {
    key: "purpose",
    question: "What the rig is for",
    options: [
      { value: "infinity", label: "All distances", says: "for all distances" },
      { value: "close_up", label: "Close-up", says: "for close-up" },
    ],
  },
  {
    key: "electronics",
    question: "Electronics",
    options: [
      { value: "active", label: "Where they exist", says: "electronics where they exist" },
      { value: "plain", label: "Plain metal", says: "plain metal by choice" },
    ],
  },
  {
    key: "rings",
    question: "Among equal adapters",
    options: [
      { value: "cheapest", label: "The cheapest", says: "the cheapest that fits" },
      { value: "precise", label: "The most precise", says: "the most precise first" },
    ],
  },
  {
    key: "glass",
    question: "Correcting glass",
    options: [
      { value: "accept", label: "Accept", says: "correcting glass accepted" },
      { value: "avoid", label: "Avoid", says: "correcting glass avoided" },
    ],
  },
  {
    key: "zooms",
    question: "Zooms on plain metal",
    options: [
      { value: "use", label: "Use", says: "zooms on plain metal" },
      { value: "avoid", label: "Avoid", says: "no zooms on plain metal" },
    ],
  },
  {
    key: "heavy",
    question: "A heavy lens on a thin ring",
    options: [
      { value: "fine", label: "Fine", says: "heavy lenses as rated" },
      { value: "support", label: "Support it", says: "heavy lenses supported" },
    ],
  },
  {
    key: "entry",
    question: "Entering the focal length",
    options: [
      { value: "essential", label: "Essential", says: "focal length entered" },
      { value: "skip", label: "Skip it", says: "focal length not entered" },
    ],
  },
  {
    key: "throw",
    question: "Focus throw",
    options: [
      { value: "long", label: "Long, precise", says: "long focus throw" },
      { value: "short", label: "Short, quick", says: "short focus throw" },
    ],
  },
  {
    key: "focusing",
    question: "Focusing",
    options: [
      { value: "wide_open", label: "Wide open first", says: "focused wide open" },
      { value: "taking_aperture", label: "As taken", says: "focused at the taking aperture" },
    ],
  },
  {
    key: "pieces",
    question: "Most adapters in a row",
    options: [
      { value: "1", label: "1", says: "one adapter at most" },
      { value: "2", label: "2", says: "two adapters at most" },
      { value: "3", label: "3", says: "three adapters at most" },
      { value: "4", label: "4", says: "four adapters at most" },
    ],
  },
  {
    key: "blur",
    question: "Circle of confusion",
    options: [
      { value: "1500", label: "d/1500", says: "c = d/1500" },
      { value: "2000", label: "d/2000", says: "c = d/2000" },
      { value: "3000", label: "d/3000", says: "c = d/3000" },
      { value: "two_pixels", label: "2 pixels", says: "c = two pixels" },
    ],
  },
];

const allowed = (key: PracticeKey, value: string) =>
  CHOICES.some((choice) => choice.key === key && choice.options.some((option) => option.value === value));

/** The practice an address carries: what it does not name is the default. */
export function practiceOf(address: URLSearchParams): Chosen {
  const named = CHOICES.flatMap(({ key }) => {
    const value = address.get(key);
    return value !== null && allowed(key, value) ? [[key, value]] : [];
  });
  return { ...DEFAULT_PRACTICE, ...(Object.fromEntries(named) as Partial<Chosen>) };
}

/** Write into an address what differs from the default. */
export function writePractice(address: URLSearchParams, practice: Chosen): void {
  for (const { key } of CHOICES) {
    if (practice[key] === DEFAULT_PRACTICE[key]) address.delete(key);
    else address.set(key, practice[key]);
  }
}

/** What is chosen otherwise than `base`, in words. */
export const differences = (practice: Chosen, base: Chosen): string[] =>
  CHOICES.filter(({ key }) => practice[key] !== base[key]).map(
    ({ key, options }) => options.find((option) => option.value === practice[key])?.says ?? practice[key],
  );
