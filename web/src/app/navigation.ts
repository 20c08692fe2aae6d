/** The screens, in two groups: what asks about the pair that is looked at, and what shows everything. */
export interface Destination {
  path: string;
  name: string;
  /** Other addresses that belong to it. */
  also?: readonly string[];
  /** On notebooks it is a tap away. */
  rarer?: true;
  /** Screens that stand under it. */
  under?: readonly Destination[];
}

export interface Group {
  name: string;
  screens: readonly Destination[];
}

export const GROUPS: readonly Group[] = [
  {
    name: "This pair",
    screens: [
      { path: "/", name: "Light path" },
      { path: "/frame", name: "Frame" },
      { path: "/setup", name: "Set-up" },
      { path: "/bench", name: "Bench" },
    ],
  },
  {
    name: "Everything",
    screens: [
      { path: "/grid", name: "Whole kit" },
      { path: "/plan", name: "Plan", rarer: true },
      { path: "/mounts", name: "Mounts" },
      { path: "/outing", name: "Outing", rarer: true },
      {
        path: "/kit",
        name: "Kit",
        also: ["/begin"],
        under: [
          { path: "/files", name: "Files" },
          { path: "/terms", name: "Terms" },
        ],
      },
    ],
  },
];

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

export const SHOP: Destination = { path: "/fit", name: "Would it fit?" };

/** The screen that an address belongs to. */
export function screenAt(pathname: string): string {
  const all = [
    ...GROUPS.flatMap(({ screens }) => screens.flatMap((one) => [one, ...(one.under ?? [])])),
    SHOP,
  ];
  const within = (path: string) => path !== "/" && (pathname === path || pathname.startsWith(`${path}/`));
  return all.find(({ path, also = [] }) => [path, ...also].some(within))?.path ?? "/";
}
