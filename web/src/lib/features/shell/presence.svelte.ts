/**
 * Whether the person whose page this is is still signed in here. The session is the browser's: its other pages tell who
 * comes and goes, and the server is asked when a page that was out of sight is looked at again.
 */
import { ask } from '$lib/network.ts';

/** `gone`: nobody is signed in. `another`: somebody else is. */
export type Presence = 'here' | 'gone' | 'another';

/** Who is signed in, by id; null: nobody. */
type Signed = number | null;

export interface PresencePorts {
  /** Told to the other pages of this browser. */
  readonly tell: (signed: Signed) => void;
  /** Undefined: not known. */
  readonly look: () => Promise<Signed | undefined>;
}

/** Milliseconds out of sight after which it is looked again. */
export const longAway = 60_000;

export class SignedIn {
  private readonly owner: number;
  private readonly ports: PresencePorts;
  private leftAt: number | undefined;
  presence = $state<Presence>('here');

  /** `owner`: whose page this is, who is signed in as it opens. */
  constructor(owner: number, ports: PresencePorts) {
    this.owner = owner;
    this.ports = ports;
    ports.tell(owner);
  }

  hear(signed: Signed): void {
    this.presence = signed === this.owner ? 'here' : signed === null ? 'gone' : 'another';
  }

  /** `now`: milliseconds. */
  async seen(isSeen: boolean, now: number): Promise<void> {
    const { leftAt } = this;
    this.leftAt = isSeen ? undefined : now;
    if (!isSeen || leftAt === undefined) return;
    // What is covered may have come to be in order while nobody told.
    if (this.presence === 'here' && now - leftAt < longAway) return;
    const signed = await this.ports.look();
    if (signed !== undefined) this.hear(signed);
  }
}

const channelName = 'rigid-rule-signed-in';

/** Tells the other pages of this browser who is signed in. */
export function tellSigned(signed: Signed): void {
  const channel = new BroadcastChannel(channelName);
  channel.postMessage(signed);
  channel.close();
}

/** Calls `heard` with what other pages tell, until the function that it gives is called. */
export function hearSigned(heard: (signed: Signed) => void): () => void {
  const channel = new BroadcastChannel(channelName);
  channel.onmessage = (e: MessageEvent<Signed>) => heard(e.data);
  return () => channel.close();
}

/** Asks the server who is signed in. */
export async function lookForSigned(): Promise<Signed | undefined> {
  const answer = await ask('/api/session').catch(() => undefined);
  if (answer?.status === 401) return null;
  return answer?.ok ? ((await answer.json()) as { readonly user: number }).user : undefined;
}
