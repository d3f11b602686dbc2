/**
 * The ways in that this server has, and whom a write by each is put down to. Every entry point of core has its line here;
 * without one it does not compile, and a write by one that is not open, or put down to somebody else, does not either.
 */
import { entryPointClass, type EntryPointClass, type FormEntryPointKey } from '@rigid-rule/core/compile';

interface Authors {
  /** A person who is signed in. */
  readonly person: { readonly userId: number };
  /** A program, by its token. */
  readonly program: { readonly tokenId: number };
  /** Another rule. */
  readonly nobody: null;
}

const authors = {
  /** `form.ts` */
  form: 'person',
  /** `api.ts` */
  api: 'program',
  /** `../jobs/follow.ts` */
  rule: 'nobody',
  /** `../jobs/drift.ts` */
  backfill: 'nobody',
  // Rules may name them already; nothing comes in by them yet.
  import: undefined,
  bulk: undefined,
  conversion: undefined,
} as const satisfies Record<EntryPointClass, keyof Authors | undefined>;

type Open = { [K in EntryPointClass]: (typeof authors)[K] extends undefined ? never : K }[EntryPointClass];
type AuthorOf<K extends Open> = Authors[Exclude<(typeof authors)[K], undefined>];
type KeyOf<K extends Open> = K extends 'form' ? FormEntryPointKey : K;

/** How a write comes in: by an entry point that is open, from whom it may come. */
export type WayIn = { [K in Open]: { readonly entryPoint: KeyOf<K>; readonly by: AuthorOf<K> } }[Open];

/** Whether a write that says so may have come in this way: what reaches it from a page or a job is only text. */
export function isWayIn(entryPoint: string, by: Authors[keyof Authors]): boolean {
  const author = authors[entryPointClass(entryPoint)];
  if (by === null) return author === 'nobody';
  return author === ('userId' in by ? 'person' : 'program');
}
