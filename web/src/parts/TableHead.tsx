import type { ReactNode } from "react";

/** The head of a table: what stands in each of its columns. */
export function TableHead({ columns }: { columns: readonly ReactNode[] }) {
  return (
    <thead>
      <tr>
        {columns.map((column, place) => (
          <th key={place} scope="col">
            {column}
          </th>
        ))}
      </tr>
    </thead>
  );
}
