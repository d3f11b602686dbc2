/** What of dmn-moddle is used here; the package ships no types. */
declare module 'dmn-moddle' {
  export class DmnModdle {
    create(type: string, attributes: object): unknown;
    toXML(element: unknown, options?: { readonly format?: boolean }): Promise<{ xml: string }>;
    fromXML(xml: string): Promise<{ rootElement: unknown; warnings: readonly { readonly message: string }[] }>;
  }
}
