/** What rules of other record types do on the records of one: only types that links lead to can have such. */
import { linkedTypes, type TypeProgram } from '@rigid-rule/core/compile';
import { whenIdle } from '$lib/ui/when-idle.ts';
import type { Draft } from './draft.svelte.ts';

/** Milliseconds of compiling before others have their turn. */
const turn = 8;

export class LinkedPrograms {
  private others = $state.raw<readonly TypeProgram[]>([]);

  /** Made by a component. `type`: whose records it is about. */
  constructor(
    draft: () => Draft,
    private readonly type: () => TypeProgram,
  ) {
    $effect(() => {
      const { program, rulebook } = draft();
      const { key } = type().recordType;
      const keys = linkedTypes(rulebook.recordTypes, key).filter((other) => other !== key);
      const work = program.prepareTypes(keys);
      let callOff: () => void;
      const goOn = (): void => {
        const until = performance.now() + turn;
        while (performance.now() < until)
          if (work.next().done) {
            this.others = keys.map((other) => program.types.get(other)!);
            return;
          }
        callOff = whenIdle(goOn);
      };
      callOff = whenIdle(goOn);
      return () => callOff();
    });
  }

  /** The type itself at once; the others as of the last time that all of them were compiled. */
  get known(): readonly TypeProgram[] {
    const own = this.type();
    return [own, ...this.others.filter((t) => t.recordType.key !== own.recordType.key)];
  }
}
