/** What was agreed that the draft does to records: read from the server, and told to it. */
import { ask } from '$lib/network.ts';
import { SvelteMap } from 'svelte/reactivity';

export interface AgreedMove {
  readonly recordType: string;
  readonly field: string;
  readonly from: string;
  readonly to: string;
}

export interface Agreement extends AgreedMove {
  readonly most: number;
  readonly by: string;
  readonly at: string;
  /** A rule that it covers is otherwise by now. */
  readonly lapsed: boolean;
}

export const agreementKey = ({ recordType, field, from, to }: AgreedMove): string =>
  [recordType, field, from, to].join('\0');

export class Agreements {
  readonly known = new SvelteMap<string, Agreement>();
  problem = $state<string>();

  async load(): Promise<void> {
    const answer = await ask('/api/agreements');
    if (!answer.ok) return;
    const { agreements } = (await answer.json()) as { agreements: readonly Agreement[] };
    this.known.clear();
    for (const a of agreements) this.known.set(agreementKey(a), a);
  }

  covers(recordType: string, move: Omit<AgreedMove, 'recordType'> & { readonly records: number }): boolean {
    const known = this.known.get(agreementKey({ recordType, field: move.field, from: move.from, to: move.to }));
    return known !== undefined && !known.lapsed && known.most >= move.records;
  }

  agree({ recordType, field, from, to }: AgreedMove, most: number): Promise<void> {
    return this.send('POST', { recordType, field, from, to, most });
  }

  takeBack({ recordType, field, from, to }: AgreedMove): Promise<void> {
    return this.send('DELETE', { recordType, field, from, to });
  }

  async agreeAll(
    recordType: string,
    moves: readonly (Omit<AgreedMove, 'recordType'> & { readonly records: number })[],
  ): Promise<void> {
    for (const { field, from, to, records } of moves)
      await this.send('POST', { recordType, field, from, to, most: records });
  }

  private async send(method: 'POST' | 'DELETE', body: object): Promise<void> {
    const headers = { 'content-type': 'application/json' };
    const answer = await ask('/api/agreements', { method, headers, body: JSON.stringify(body) }).catch(() => undefined);
    this.problem = answer?.ok ? undefined : 'That could not be kept. Try again.';
    await this.load();
  }
}
