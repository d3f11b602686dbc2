/** A number of a query such as an id: whole, over zero, safe; undefined for any other text. */
export function wholeNumber(text: string | null): number | undefined {
  const n = Number(text ?? NaN);
  return Number.isSafeInteger(n) && n > 0 ? n : undefined;
}
