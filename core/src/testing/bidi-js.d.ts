/** What is used of it: it brings no types of its own. */
declare module 'bidi-js' {
  interface Bidi {
    getBidiCharTypeName(character: string): string;
    getEmbeddingLevels(text: string, base: 'ltr' | 'rtl' | 'auto'): object;
    getReorderedIndices(text: string, levels: object): number[];
  }
  export default function bidiFactory(): Bidi;
}
