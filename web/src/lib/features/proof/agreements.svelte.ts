/** What was agreed that the draft does to records: read from the server, and told to it. */
import { ask, whyNot } from '$lib/network.ts';
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
    this.problem = await this.read();
  }

  /** Why it could not be read. */
  private async read(): Promise<string | undefined> {
    try {
      const answer = await ask('/api/agreements');
      if (!answer.ok) throw await whyNot(answer, 'The server gave no answer.');
      const { agreements } = (await answer.json()) as { agreements: readonly Agreement[] };
      this.known.clear();
      for (const a of agreements) this.known.set(agreementKey(a), a);
      return undefined;
    } catch (e) {
      return `What was agreed could not be read. ${(e as Error).message}`;
    }
  }

  covers(recordType: string, move: Omit<AgreedMove, 'recordType'> & { readonly records: number }): boolean {
    const known = this.known.get(agreementKey({ recordType, field: move.field, from: move.from, to: move.to }));
    return known !== undefined && !known.lapsed && known.most >= move.records;
  }

  async agree({ recordType, field, from, to }: AgreedMove, most: number): Promise<void> {
    await this.send('POST', { recordType, field, from, to, most });
  }

  async takeBack({ recordType, field, from, to }: AgreedMove): Promise<void> {
    await this.send('DELETE', { recordType, field, from, to });
  }

  async agreeAll(
    recordType: string,
    moves: readonly (Omit<AgreedMove, 'recordType'> & { readonly records: number })[],
  ): Promise<void> {
    for (const { field, from, to, records } of moves)
      if (!(await this.send('POST', { recordType, field, from, to, most: records }))) return;
  }

  /** False: it was not kept, and the problem says why. */
  private async send(method: 'POST' | 'DELETE', body: object): Promise<boolean> {
    const headers = { 'content-type': 'application/json' };
    let problem: string | undefined;
    try {
      const answer = await ask('/api/agreements', { method, headers, body: JSON.stringify(body) });
      if (!answer.ok) throw await whyNot(answer, 'Try again.');
    } catch (e) {
      problem = `That could not be kept. ${(e as Error).message}`;
    }
    const unread = await this.read();
    this.problem = problem ?? unread;
    return problem === undefined;
  }
}
