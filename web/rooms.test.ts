import { readdirSync } from "node:fs";
import { resolve } from "node:path";
import { expect, test } from "vitest";

import { filesByRoom, ROOMS } from "./rooms";

test("every folder of views belongs to one room, but for the first screen's", () => {
  const rooms = readdirSync("src/views").map((folder) =>
    Object.keys(ROOMS).filter((room) => ROOMS[room]?.test(resolve(`src/views/${folder}/View.tsx`))),
  );
  expect(rooms.filter(({ length }) => length !== 1)).toEqual([[]]);
});

/** Modules by what they import, and by what they import later. */
const GRAPH: Record<string, readonly [string[], string[]]> = {
  "src/main.tsx": [["src/app/App.tsx"], []],
  "src/app/App.tsx": [
    ["src/app/tokens.css"],
    ["src/views/light-path/LightPath.tsx", "src/views/kit/Kit.tsx", "src/views/log/Log.tsx"],
  ],
  "src/views/light-path/LightPath.tsx": [
    ["src/parts/Picker.tsx"],
    ["src/views/light-path/Compare.tsx", "src/parts/Panel.tsx"],
  ],
  "src/views/light-path/Compare.tsx": [[], []],
  "src/views/kit/Kit.tsx": [
    ["src/parts/Picker.tsx", "src/drawing/Silhouette.tsx", "src/drawing/Axis.tsx"],
    ["src/views/kit/ItemForm.tsx"],
  ],
  "src/views/kit/ItemForm.tsx": [["src/parts/Panel.tsx", "src/parts/FieldInput.tsx"], []],
  "src/views/log/Log.tsx": [["src/drawing/Axis.tsx"], []],
  "src/pair/pair.ts": [["src/app/tokens.css"], []],
  "src/worker/worker.ts": [[], []],
};

test("a module stands with who needs it", () => {
  const names = Object.fromEntries(Object.entries(GRAPH).map(([name, imports]) => [resolve(name), imports]));
  const modules = {
    getModuleInfo: (id: string) => {
      const [now = [], later = []] = names[id] ?? [];
      return {
        importedIds: now.map((name) => resolve(name)),
        dynamicallyImportedIds: later.map((name) => resolve(name)),
      };
    },
  };
  const fileOf = filesByRoom();
  const files = (name: string) => fileOf(resolve(name), modules);
  expect(files("src/views/light-path/LightPath.tsx")).toBe("first");
  expect(files("src/parts/Picker.tsx")).toBe("first");
  expect(files("src/views/kit/ItemForm.tsx")).toBe("kit");
  // What one room alone needs is the room's, what two need or what opens upon the first screen is shared.
  expect(files("src/drawing/Silhouette.tsx")).toBe("kit");
  expect(files("src/parts/FieldInput.tsx")).toBe("kit");
  expect(files("src/drawing/Axis.tsx")).toBe("shared");
  expect(files("src/parts/Panel.tsx")).toBe("shared");
  expect(files("src/views/light-path/Compare.tsx")).toBe("shared");
  // The bundler decides what is the stranger's page, the worker, and the page itself.
  for (const name of ["src/main.tsx", "src/pair/pair.ts", "src/app/tokens.css", "src/worker/worker.ts"])
    expect(files(name)).toBeNull();
});
