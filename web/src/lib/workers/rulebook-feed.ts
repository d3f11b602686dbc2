/**
 * A rulebook told to a worker as it changes: only the parts that are otherwise go over, and what stayed keeps its
 * identity there, so that what hangs on it is not made anew.
 */
import { fromParts, partId, toParts, type Part, type Rulebook } from '@rigid-rule/core/document';

export interface RulebookChange {
  /** Parts that are new or otherwise: the body as JSON, since the interface may hold it in ways that cannot be cloned. */
  readonly parts: readonly (Omit<Part, 'body'> & { readonly json: string })[];
  /** Identities of all parts, in order. */
  readonly ids: readonly string[];
}

/** The side that has the rulebook. */
export class RulebookFeed {
  private readonly told = new Map<string, string>();
  private readonly texts = new WeakMap<object, string>();

  change(rulebook: Rulebook): RulebookChange {
    const parts = toParts(rulebook);
    const ids = parts.map(partId);
    const present = new Set(ids);
    for (const id of [...this.told.keys()]) if (!present.has(id)) this.told.delete(id);
    const changed = parts.flatMap(({ body, ...rest }, i) => {
      const json = this.textOf(body as object);
      const said = `${rest.position} ${json}`;
      if (this.told.get(ids[i]!) === said) return [];
      this.told.set(ids[i]!, said);
      return [{ ...rest, json }];
    });
    return { parts: changed, ids };
  }

  private textOf(body: object): string {
    const known = this.texts.get(body) ?? JSON.stringify(body);
    this.texts.set(body, known);
    return known;
  }
}

/** The side that follows it. */
export class RulebookMirror {
  private readonly parts = new Map<string, Part>();
  private rulebook: Rulebook | undefined;

  take({ parts, ids }: RulebookChange): Rulebook {
    for (const { json, ...part } of parts) this.parts.set(partId(part), { ...part, body: JSON.parse(json) as unknown });
    const present = new Set(ids);
    for (const id of [...this.parts.keys()]) if (!present.has(id)) this.parts.delete(id);
    return (this.rulebook = fromParts(
      ids.flatMap((id) => this.parts.get(id) ?? []),
      this.rulebook,
    ));
  }
}
