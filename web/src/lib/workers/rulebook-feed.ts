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
  private readonly told = new Map<
    string,
    { readonly body: unknown; readonly position: number; readonly json: string }
  >();

  change(rulebook: Rulebook): RulebookChange {
    const parts = toParts(rulebook);
    const ids = parts.map(partId);
    const present = new Set(ids);
    for (const id of [...this.told.keys()]) if (!present.has(id)) this.told.delete(id);
    const changed = parts.flatMap(({ body, ...rest }, i) => {
      const { position } = rest;
      const before = this.told.get(ids[i]!);
      if (before && before.body === body && before.position === position) return [];
      const json = JSON.stringify(body);
      this.told.set(ids[i]!, { body, position, json });
      return before?.json === json && before.position === position ? [] : [{ ...rest, json }];
    });
    return { parts: changed, ids };
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
