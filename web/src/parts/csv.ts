type Cell = string | number | boolean | null;

/** A file that the browser keeps, made here. */
export function keep(name: string, type: string, text: string) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** Words that a spreadsheet might take for a formula are made harmless. */
const harmless = (value: Cell) => (typeof value === "string" && /^[=+\-@\t\r]/.test(value) ? `'${value}` : value);

const cell = (value: Cell) => {
  const text = value === null ? "" : String(harmless(value));
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
};

/** Rows of one shape as a table with a head; nothing where there is no row. */
export function tableOf(rows: readonly object[]): string {
  const [first] = rows;
  if (!first) return "";
  const lines = rows.map((row) =>
    Object.values(row as Record<string, Cell>)
      .map(cell)
      .join(","),
  );
  return [Object.keys(first).join(","), ...lines].join("\r\n");
}

/** Tables under each other. */
export const tablesOf = (...tables: readonly (readonly object[])[]) =>
  `${tables.map(tableOf).filter(Boolean).join("\r\n\r\n")}\r\n`;
