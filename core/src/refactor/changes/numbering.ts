/** Gives of texts, one after another, the how manieth of its kind each is, from 1: several things may say the same. */
export function numbering(): (text: string) => number {
  const met = new Map<string, number>();
  return (text) => {
    const nth = (met.get(text) ?? 0) + 1;
    met.set(text, nth);
    return nth;
  };
}
