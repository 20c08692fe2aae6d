/** A screen of the bar; what stands under it has addresses of its own. */
export interface Destination {
  path: string;
  name: string;
  /** Other addresses that belong to it. */
  also?: readonly string[];
  /** Screens that stand under it, itself first where it is one of them. */
  under?: readonly Destination[];
  /** Its page has tabs of its own, and these among them. */
  ownTabs?: true;
}

export interface Group {
  name: string;
  screens: readonly Destination[];
}

/** The screens in the order of the work: of the pair that is looked at, then of everything. */
export const GROUPS: readonly Group[] = [
  {
    name: "This pair",
    screens: [
      { path: "/", name: "Light path" },
      { path: "/frame", name: "Frame" },
      {
        path: "/setup",
        name: "Set-up",
        under: [
          { path: "/setup", name: "This rig", ownTabs: true },
          { path: "/outing", name: "Outings" },
        ],
      },
      { path: "/bench", name: "Bench" },
    ],
  },
  {
    name: "Everything",
    screens: [
      {
        path: "/log",
        name: "Log",
        under: [
          { path: "/log", name: "While shooting" },
          { path: "/log/pictures", name: "Pictures" },
          { path: "/log/trials", name: "Trials" },
          { path: "/log/use", name: "What was used" },
        ],
      },
      {
        path: "/kit",
        name: "Kit",
        also: ["/begin"],
        under: [
          { path: "/kit", name: "What I have" },
          { path: "/grid", name: "What fits what" },
          { path: "/mounts", name: "Mounts compared" },
          { path: "/files", name: "Files" },
        ],
      },
      { path: "/plan", name: "Buy" },
    ],
  },
];

/** What is looked up, under *More*. */
export const MORE: readonly Destination[] = [
  { path: "/practice", name: "Practice" },
  { path: "/pocket", name: "In the pocket" },
  { path: "/devices", name: "Devices" },
  { path: "/terms", name: "Terms" },
];

/** The box: a lens, a label or a listing, as it is read. */
export const BOX: Destination = { path: "/fit", name: "Would it fit?" };

const within = (path: string, pathname: string) =>
  path === "/" ? pathname === "/" : pathname === path || pathname.startsWith(`${path}/`);

const SCREENS = [...GROUPS.flatMap(({ screens }) => screens), ...MORE, BOX];

/** Whether a screen is about the pair that is looked at. */
export const isOfPair = (path: string) => GROUPS[0]?.screens.some((screen) => screen.path === path) ?? false;

/** Another screen of the pair in an address: its chain and the preferences go along. */
export function withPair(path: string, search: string, practiceKeys: readonly string[]): string {
  const words = new URLSearchParams(search);
  const kept = new URLSearchParams();
  for (const key of ["lens", "body", "via", ...practiceKeys]) {
    const value = words.get(key);
    if (value !== null) kept.set(key, value);
  }
  return `${path}?${kept.toString()}`;
}

/** The screen of the bar that an address belongs to. */
export const screenAt = (pathname: string): Destination | undefined =>
  SCREENS.find(({ path, also = [], under = [] }) =>
    [path, ...also, ...under.map((one) => one.path)].some((one) => within(one, pathname)),
  );

/** Which of the screens under another one an address belongs to. */
export const underAt = ({ under = [] }: Destination, pathname: string): Destination | undefined =>
  // The longest address that holds it: a screen may stand below another one's.
  under.filter(({ path }) => within(path, pathname)).sort((one, other) => other.path.length - one.path.length)[0];
