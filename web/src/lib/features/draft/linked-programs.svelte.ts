/** What rules of other record types do on the records of one: only types that links lead to can have such. */
import { linkedTypes, type TypeProgram } from '@rigid-rule/core/compile';
import type { Draft } from './draft.svelte.ts';

/** A task of its own for each type that has yet to be compiled: nothing waits for all of them. */
const nextTask = () => new Promise<void>((done) => setTimeout(done));

export class LinkedPrograms {
  private others = $state.raw<readonly TypeProgram[]>([]);

  /** Made by a component. `type`: whose records it is about. */
  constructor(
    draft: Draft,
    private readonly type: () => TypeProgram,
  ) {
    $effect(() => {
      const { program, rulebook } = draft;
      const { key } = type().recordType;
      let left = false;
      void (async () => {
        const found: TypeProgram[] = [];
        for (const other of linkedTypes(rulebook.recordTypes, key)) {
          if (other === key) continue;
          await nextTask();
          if (left) return;
          found.push(program.types.get(other)!);
        }
        this.others = found;
      })();
      return () => (left = true);
    });
  }

  /** The type itself at once; the others as of the last time that all of them were compiled. */
  get known(): readonly TypeProgram[] {
    const own = this.type();
    return [own, ...this.others.filter((t) => t.recordType.key !== own.recordType.key)];
  }
}
