const PER_UNIT: Record<string, number> = {
  "": 1,
  mm: 1,
  cm: 10,
  m: 1000,
  in: 25.4,
  inch: 25.4,
  inches: 25.4,
  '"': 25.4,
  "″": 25.4,
  ft: 304.8,
};

/** A length as one has it ("1.5 in", "46,1", "2 cm"), in mm; null where it is none. */
export function lengthMm(text: string): number | null {
  const found = /^\s*(\d+(?:[.,]\d+)?|[.,]\d+)\s*(mm|cm|m|inches|inch|in|ft|"|″)?\s*$/i.exec(text);
  if (!found) return null;
  const value = Number((found[1] ?? "").replace(",", "."));
  const millimetres = value * (PER_UNIT[(found[2] ?? "").toLowerCase()] ?? NaN);
  return Number.isFinite(millimetres) ? Math.round(millimetres * 1e4) / 1e4 : null;
}
