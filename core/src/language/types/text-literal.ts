const simple: Readonly<Record<string, string>> = { n: '\n', r: '\r', t: '\t', '"': '"', "'": "'", '\\': '\\' };

/** The text that a FEEL string literal (with its quotation marks) stands for: \n \r \t \" \\ \uXXXX \UXXXXXX. */
export function unescapeText(literal: string): string {
  return literal
    .slice(1, -1)
    .replace(
      /\\(?:u([0-9a-fA-F]{4})|U([0-9a-fA-F]{6})|(.))/gs,
      (whole, short?: string, long?: string, one?: string) => {
        if (short) return String.fromCharCode(parseInt(short, 16));
        if (long) {
          const point = parseInt(long, 16);
          return point <= 0x10ffff ? String.fromCodePoint(point) : whole;
        }
        return simple[one!] ?? whole;
      },
    );
}

/** A text as a FEEL string literal; `unescapeText` gives it back. */
export function quoteText(text: string): string {
  const escaped = text.replace(/["\\\n\r\t]/g, (c) =>
    c === '\n' ? '\\n' : c === '\r' ? '\\r' : c === '\t' ? '\\t' : `\\${c}`,
  );
  return `"${escaped}"`;
}
