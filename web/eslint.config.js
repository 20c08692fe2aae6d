import js from "@eslint/js";
import { createTypeScriptImportResolver } from "eslint-import-resolver-typescript";
import importX from "eslint-plugin-import-x";
import jsxA11y from "eslint-plugin-jsx-a11y";
import reactHooks from "eslint-plugin-react-hooks";
import { readdirSync } from "node:fs";
import tseslint from "typescript-eslint";

const rooms = readdirSync(new URL("src/views", import.meta.url));
// Arrows point down: a room uses the parts, the drawing and the shell's hooks, and no other room.
const zones = [
  ...rooms.map((room) => ({
    target: `./src/views/${room}`,
    from: "./src/views",
    except: [`./${room}`],
    message: "A room takes nothing from another room: what two of them need is a part.",
  })),
  { target: "./src/parts", from: "./src/views" },
  { target: "./src/drawing", from: ["./src/views", "./src/app"] },
  { target: "./src/api", from: ["./src/views", "./src/app", "./src/drawing", "./src/parts"] },
];

export default tseslint.config(
  { ignores: ["tests", "src/api/schema.ts", "eslint.config.js"] },
  js.configs.recommended,
  ...tseslint.configs.strictTypeChecked,
  ...tseslint.configs.stylisticTypeChecked,
  reactHooks.configs.flat.recommended,
  jsxA11y.flatConfigs.recommended,
  {
    plugins: { "import-x": importX },
    settings: { "import-x/resolver-next": [createTypeScriptImportResolver({ project: "./tsconfig.json" })] },
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      "@typescript-eslint/no-explicit-any": "error",
      "@typescript-eslint/no-confusing-void-expression": ["error", { ignoreArrowShorthand: true }],
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }],
      "no-console": "error",
      "import-x/no-cycle": "error",
      "import-x/no-restricted-paths": ["error", { zones }],
      "max-lines-per-function": ["error", { max: 120 }],
      "max-len": ["error", { code: 110, ignorePattern: '^\\s*(d=|<title>|".*",?$|`.*`,?$)' }],
    },
  },
);
