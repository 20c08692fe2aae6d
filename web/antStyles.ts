import { createRequire } from "node:module";
import { fileURLToPath } from "node:url";
import type { ComponentType, ReactNode } from "react";
import type { ESTree, Plugin } from "vite";

import { DARK, FINGERS, KEY, LIGHT, PARTS, SEEN_BY_SCRIPTS, TOUCHED } from "./src/app/antTheme.ts";

/** Ant Design's styles, written out when the application is built: at run time no script makes any. */
export function antStyles(): Plugin {
  const asked = new Map<string, string[]>();
  return {
    name: "ant-styles",
    enforce: "pre",
    resolveId: (id) => (id in written ? `\0${id}` : null),
    load(id) {
      if (id.startsWith("\0virtual:ant")) return written[id.slice(1) as keyof typeof written]();
      const at = inAntd(id);
      if (at === "theme/useToken.js") return ours("antToken.ts", "unitless");
      if (at === "config-provider/defaultRenderEmpty.js") return ours("NothingToChoose.tsx");
      return (at && INSTEAD[at]) ?? null;
    },
    transform(code, id) {
      if (!/\/style(\/[\w-]+)?\.js$/.test(inAntd(id) ?? "")) return null;
      const made = makersIn(this.parse(code));
      asked.set(
        id,
        made.map((call) => nameOf(call)),
      );
      return { code: unstyled(code, made), map: null };
    },
    generateBundle(_, bundle) {
      const drawn = sheetOf(library(), false, false).names;
      for (const chunk of Object.values(bundle))
        for (const id of chunk.type === "chunk" ? chunk.moduleIds : [])
          for (const name of asked.get(id) ?? [])
            if (!drawn.has(name))
              this.error(`nothing drawn in antStyles.ts brings the styles of ${name}: draw what does`);
    },
  };
}

function inAntd(id: string): string | undefined {
  return /\/node_modules\/antd\/es\/(.+\.js)$/.exec(id)?.[1];
}

const written = { "virtual:ant.css": stylesheet, "virtual:ant-token": seenByScripts };

/** A module of the application in place of one of the library's. */
function ours(name: string, ...empty: string[]): string {
  const path = JSON.stringify(fileURLToPath(new URL(`./src/app/${name}`, import.meta.url)));
  return `export { default } from ${path};\n${empty.map((one) => `export const ${one} = {};\n`).join("")}`;
}

// What makes styles at run time, and what stands in its place where they stand in a file.
const MAKERS: Record<string, string> = {
  genStyleHooks: `(() => ["", ${JSON.stringify(KEY)}])`,
  genComponentStyleHook: '(() => "")',
  genSubStyleComponent: "(() => null)",
};

/** The calls in a module that make styles, as they stand. */
function makersIn(node: unknown): ESTree.CallExpression[] {
  if (Array.isArray(node)) return node.flatMap(makersIn);
  if (node === null || typeof node !== "object" || !("type" in node)) return [];
  const call = node as ESTree.Node;
  if (call.type === "CallExpression" && call.callee.type === "Identifier" && call.callee.name in MAKERS) return [call];
  return Object.values(node).flatMap(makersIn);
}

/** The name under which styles are kept: of a component, and of the part of it. */
function nameOf({ arguments: [told] }: ESTree.CallExpression): string {
  const parts = told?.type === "ArrayExpression" ? told.elements : [told, told];
  return parts.map((each) => (each?.type === "Literal" ? String(each.value) : "?")).join("-");
}

/** A module of styles without its styles: nothing else of it is used then, and it is left out. */
function unstyled(code: string, made: readonly ESTree.CallExpression[]): string {
  return made.reduceRight((text, { callee, start, end }) => {
    const instead = callee.type === "Identifier" ? MAKERS[callee.name] : undefined;
    return text.slice(0, start) + (instead ?? "") + text.slice(end);
  }, code);
}

const STYLE_UTILS = `
const hook = () => ["", ${JSON.stringify(KEY)}];
export const genStyleHooks = () => hook;
export const genComponentStyleHook = () => () => "";
export const genSubStyleComponent = () => () => null;
export const genCssVar = (root, part) => {
  const name = (key) => \`--\${root.replace(/\\./g, "")}-\${part}-\${key}\`;
  return [name, (key, other) => (other ? \`var(\${name(key)}, \${other})\` : \`var(\${name(key)})\`)];
};
`;

const NOTHING = "export default {};";

/** What stands in place of modules of which the application needs less, by their place in the library. */
const INSTEAD: Record<string, string> = {
  // The application gives the context itself; the library's own would make themes.
  "config-provider/index.js": 'export * from "./context";\nexport default ({ children }) => children;',
  "theme/util/genStyleUtils.js": STYLE_UTILS,
  // A drawer that is still loading.
  "skeleton/index.js": "export default () => null;",
  // Bubbles in any colour.
  "tooltip/util.js": "export const parseColor = () => ({ className: undefined, overlayStyle: {}, arrowStyle: {} });",
  // The words of calendars and clocks.
  "calendar/locale/en_US.js": NOTHING,
  "date-picker/locale/en_US.js": NOTHING,
  "time-picker/locale/en_US.js": NOTHING,
};

/** The packages as Node has them; they are only there when building. */
interface Library {
  createElement: (part: ComponentType<object> | string, props?: object | null, ...inside: ReactNode[]) => ReactNode;
  renderToString: (node: ReactNode) => string;
  createCache: () => { cache: Map<string, unknown> };
  extractStyle: (cache: object, how: { plain: true; types: string[] }) => string;
  StyleProvider: ComponentType<object>;
  ConfigProvider: ComponentType<object>;
  theme: {
    defaultAlgorithm: unknown;
    darkAlgorithm: unknown;
    getDesignToken: (theme: object) => Record<string, unknown>;
  };
  parts: Record<string, ComponentType<object>>;
}

function library(): Library {
  const load = createRequire(import.meta.url);
  const antd = load("antd") as Record<string, ComponentType<object>> & Pick<Library, "ConfigProvider" | "theme">;
  const { createElement } = load("react") as Pick<Library, "createElement">;
  const { renderToString } = load("react-dom/server") as Pick<Library, "renderToString">;
  const css = load("@ant-design/cssinjs") as Pick<Library, "createCache" | "extractStyle" | "StyleProvider">;
  return { ...css, createElement, renderToString, ConfigProvider: antd.ConfigProvider, theme: antd.theme, parts: antd };
}

function themeOf(ant: Library, dark: boolean, touched: boolean): object {
  const algorithm = dark ? ant.theme.darkAlgorithm : ant.theme.defaultAlgorithm;
  const token = { ...(dark ? DARK : LIGHT), ...(touched ? TOUCHED : {}) };
  return { algorithm, token, components: PARTS, hashed: false, cssVar: { key: KEY } };
}

interface Sheet {
  names: Set<string>;
  rules: string;
  values: Map<string, Map<string, string>>;
}

/** Every component that the application uses, drawn once in one theme. */
function sheetOf(ant: Library, dark: boolean, touched: boolean): Sheet {
  const cache = ant.createCache();
  const { createElement: make, parts } = ant;
  const group = parts.Radio as ComponentType<object> & { Group: ComponentType<object>; Button: ComponentType<object> };
  const input = parts.Input as ComponentType<object> & { TextArea: ComponentType<object> };
  const space = parts.Space as ComponentType<object> & { Compact: ComponentType<object> };
  const drawn = [
    ...["Button", "Input", "InputNumber", "Checkbox"].map((name) => make(part(parts, name), null, null)),
    make(input.TextArea),
    make(part(parts, "InputNumber"), { addonAfter: "one" }),
    make(space.Compact, null, make(part(parts, "Button"))),
    make(part(parts, "Select"), { open: true }),
    make(part(parts, "Drawer"), { open: true }),
    make(part(parts, "Segmented"), { options: ["one"] }),
    make(group.Group, { options: ["one"] }),
    make(group.Button),
    make(part(parts, "Popconfirm"), { open: true, title: "one" }, make("a")),
    make(part(parts, "Popover"), { open: true }, make("a")),
  ];
  const themed = make(ant.ConfigProvider, { theme: themeOf(ant, dark, touched) }, ...drawn);
  ant.renderToString(make(ant.StyleProvider, { cache }, themed));
  const values = new Map<string, Map<string, string>>();
  for (const [, selector, block] of ant
    .extractStyle(cache, { plain: true, types: ["token", "cssVar"] })
    .matchAll(/([^{}]+)\{([^{}]*)\}/g)) {
    const own = values.get(selector ?? "") ?? new Map<string, string>();
    for (const [, name, value] of (block ?? "").matchAll(/(--[\w-]+):([^;]*);/g))
      own.set(name ?? "", (value ?? "").replace(/\d+\.\d{6,}/g, up));
    values.set(selector ?? "", own);
  }
  const kept = [...cache.cache.keys()].map((key) => /^style%[^%]*%([^%]+)%/.exec(key)?.[1] ?? "");
  const rules = without(UNUSED, ant.extractStyle(cache, { plain: true, types: ["style"] }));
  return { names: new Set(kept), rules, values };
}

/** What is packed keeps five decimals: a line a hair too high is as high as it should be, one too low is not. */
function up(number: string): string {
  return String(Math.ceil(Number(number) * 1e5) / 1e5);
}

// Written from right to left, in one of the library's own colours, or the list of what was drawn. Links are no part of
// the library: its rules for every one of them would take away the line that tells what is one.
const UNUSED =
  /-rtl\b|-color-(blue|purple|cyan|green|magenta|pink|red|orange|yellow|volcano|geekblue|lime|gold)\b|cache-path|^\s*a(:[\w-]+|\[disabled\])?\s*$/;

/** The rules less the selectors that nothing in the application answers to. */
function without(unused: RegExp, rules: string): string {
  return rules.replace(/([^{}]+)(\{[^{}]*\})/g, (_, selectors: string, block: string) => {
    const left = selectors.split(/,(?![^()]*\))/).filter((selector) => !unused.test(selector));
    return left.length ? left.join(",") + block : "";
  });
}

function part(parts: Library["parts"], name: string): ComponentType<object> {
  const found = parts[name];
  if (!found) throw new Error(`antd has no ${name}`);
  return found;
}

function stylesheet(): string {
  const ant = library();
  const plain = sheetOf(ant, false, false);
  const dark = sheetOf(ant, true, false);
  const touched = sheetOf(ant, false, true);
  const both = sheetOf(ant, true, true);
  if (![dark, touched, both].every((sheet) => sheet.rules === plain.rules))
    throw new Error("a component's rules hang on its theme: only values may");
  const colours = differences(plain, dark);
  if (print(colours) !== print(differences(touched, both)))
    throw new Error("what a dark screen changes hangs on whether it is touched");
  const used = usedIn(plain);
  return [
    print(plain.values, used),
    print(colours, used, ':root[data-theme="dark"] '),
    `@media ${FINGERS} {${print(differences(plain, touched), used)}}`,
    plain.rules,
  ].join("\n");
}

function differences(one: Sheet, other: Sheet): Sheet["values"] {
  const found: Sheet["values"] = new Map();
  for (const [selector, values] of other.values) {
    const own = [...values].filter(([name, value]) => one.values.get(selector)?.get(name) !== value);
    if (own.length) found.set(selector, new Map(own));
  }
  return found;
}

/** The names of the values that some rule asks for, itself or by another value. */
function usedIn(sheet: Sheet): Set<string> {
  const asked = (text: string) => [...text.matchAll(/var\((--[\w-]+)/g)].map(([, name]) => name ?? "");
  const values = [...sheet.values.values()].flatMap((own) => [...own]);
  const used = new Set(asked(sheet.rules));
  for (let before = -1; before < used.size;) {
    before = used.size;
    for (const [name, value] of values) if (used.has(name)) for (const other of asked(value)) used.add(other);
  }
  return used;
}

function print(values: Sheet["values"], used?: Set<string>, within = ""): string {
  return [...values]
    .map(([selector, own]) => {
      const lines = [...own].filter(([name]) => !used || used.has(name)).map(([name, value]) => `${name}:${value};`);
      return lines.length ? `${within}${selector}{${lines.join("")}}` : "";
    })
    .join("\n");
}

/** The few values of the theme that scripts look at. */
function seenByScripts(): string {
  const ant = library();
  const told = (touched: boolean) => {
    const token = ant.theme.getDesignToken(themeOf(ant, false, touched));
    return JSON.stringify(Object.fromEntries(SEEN_BY_SCRIPTS.map((name) => [name, token[name]])));
  };
  return `export const plain = ${told(false)};\nexport const touched = ${told(true)};\n`;
}
